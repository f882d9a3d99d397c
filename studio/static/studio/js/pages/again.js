// What a page asked for while the server was busy is asked for again, until it is done.
import { $ } from "../core/by_id.js";
const form = $("again");
if (form) setTimeout(() => form.requestSubmit(), 2000);
