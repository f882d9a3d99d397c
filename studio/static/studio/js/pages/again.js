// What a page asked for while the server was busy is asked for again, until it is done.
const form = document.getElementById("again");
if (form) setTimeout(() => form.requestSubmit(), 2000);
