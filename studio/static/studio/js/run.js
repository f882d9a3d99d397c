// A run's page: photos come in, are looked at and adjusted, and the files are made; Python draws and works out all of it.
import "./run_photos.js";
import "./run_seat.js";
import { watch } from "./run_cells.js";
import { follow } from "./run_progress.js";
import { example } from "./run_settings.js";

watch();
follow();
example();
document.documentElement.dataset.ready = "yes";
