// The Alpine component of the top strip and the bars over the sheet.
import { $, drawn, on, state } from "../core/state.js";
import { view } from "../core/view.js";

document.addEventListener("alpine:init", () => {
  window.Alpine.data("bench", () => ({
    saved: "saved",
    undo: state.undo,
    redo: state.redo,
    zoom: "",
    inside: "",
    // in a narrow window: the rail that covers part of the sheet
    rail: "",
    items: state.order.length,
    init() {
      on("busy", ({ text }) => {
        this.saved = text === "saved" ? `saved, step ${state.revision}` : text;
      });
      on("shown", () => {
        this.undo = state.undo;
        this.redo = state.redo;
        this.items = state.order.length;
      });
      on("press", () => {
        this.items = Math.max(1, this.items);
      });
      on("view", () => {
        this.zoom = `${Math.round(view.zoom * 100)} %`;
      });
      // during a gesture the sheet has all of the window
      $("desk").addEventListener("pointerdown", () => {
        this.rail = "";
      });
      on("inside", (id) => {
        this.inside = id ? drawn(id)?.dataset.name : "";
      });
      this.saved = `saved, step ${state.revision}`;
      this.zoom = `${Math.round(view.zoom * 100)} %`;
    },
    toggleDrawer() {
      this.rail = this.rail === "drawer" ? "" : "drawer";
    },
    toggleSide() {
      this.rail = this.rail === "side" ? "" : "side";
    },
    get drawerOpen() {
      return String(this.rail === "drawer");
    },
    get sideOpen() {
      return String(this.rail === "side");
    },
    get noUndo() {
      return !this.undo;
    },
    get noRedo() {
      return !this.redo;
    },
    get undoWord() {
      return this.undo;
    },
    get undoTitle() {
      return this.undo ? `Undo: ${this.undo} (Ctrl Z)` : "Nothing to undo";
    },
    get redoTitle() {
      return this.redo ? `Redo: ${this.redo} (Ctrl Shift Z)` : "Nothing to redo";
    },
    get stepped() {
      return Boolean(this.inside);
    },
    get insideText() {
      return `Inside ${this.inside}`;
    },
    get isEmpty() {
      return this.items === 0;
    },
  }));
});
