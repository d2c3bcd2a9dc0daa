/* Two taps on a screen's drawing fill the place and size of a mark, in mm. */
"use strict";
document.addEventListener("alpine:init", () => {
  Alpine.data("marks", () => ({
    said: "Tap two opposite corners of the mark on the drawing, or type where it lies.",
    corner: null,
    tap(event) {
      const drawing = event.target.closest("svg");
      if (!drawing) return;
      const box = drawing.getBoundingClientRect(), d = this.$root.dataset;
      const x = ((event.clientX - box.left) / box.width) * d.width, y = ((event.clientY - box.top) / box.height) * d.height;
      if (this.corner === null) {
        this.corner = [x, y];
        this.said = "Now the opposite corner.";
        return;
      }
      const [a, b] = this.corner;
      this.set("x_mm", Math.min(a, x));
      this.set("y_mm", Math.min(b, y));
      this.set("width_mm", Math.max(1, Math.abs(x - a)));
      this.set("height_mm", Math.max(1, Math.abs(y - b)));
      this.corner = null;
      this.said = "Say what it is and mark it, or tap again.";
    },
    set(name, value) { this.$root.querySelector(`[name=${name}]`).value = value.toFixed(0); },
  }));
});
