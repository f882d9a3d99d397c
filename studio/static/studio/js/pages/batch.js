// A batch's page: photos are added, viewed and adjusted, and the files are made; Python draws and computes all of it.
import "../core/name_words.js";
import "./batch_photos.js";
import "./batch_seat.js";
import { watch } from "./batch_cells.js";
import { follow } from "./batch_progress.js";
import { example } from "./batch_settings.js";

watch();
follow();
example();
document.documentElement.dataset.ready = "yes";
