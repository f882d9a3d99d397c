// A page requested while the server was busy is requested again, until it comes.
import { $ } from "../core/by_id.js";
const form = $("again");
if (form) setTimeout(() => form.requestSubmit(), 2000);
