// The editor's entry: brings its parts together, in order.
import "./bench.js";
import { overPhotos } from "./answer.js";
import "./rulers.js";
import "./choose.js";
import "./gestures.js";
import "./hints.js";
import "./holes.js";
import "./noding.js";
import "./ordering.js";
import "./photos.js";
import "./rules.js";
import "./settings.js";
import "./snap.js";
import "./fields.js";
import "./buttons.js";
import "./keys.js";
import { see, tool } from "./deeds.js";
import { $, tell } from "./state.js";
import { fit } from "./view.js";

overPhotos();
$("drawer").dataset.kind = "draw";
fit();
tool("choose");
see();
tell("chosen", []);
document.documentElement.dataset.ready = "yes";
