/* Faults on a stencil's picture: stepped through by keys and taps, and one more tapped on it. */
"use strict";
document.addEventListener("alpine:init", () => {
  Alpine.data("faults", () => ({
    here: -1,
    said: "Tap it on the picture, or type where it lies.",
    rows() { return [...this.$root.querySelectorAll(".fault-row")]; },
    step(event) {
      if (/^(INPUT|SELECT|TEXTAREA)$/.test(event.target.tagName)) return;
      if (event.key === "ArrowRight") this.next();
      if (event.key === "ArrowLeft") this.back();
    },
    next() { this.show(this.here + 1); },
    back() { this.show(this.here < 0 ? -1 : this.here - 1); },
    show(index) {
      const rows = this.rows();
      if (!rows.length) return;
      this.here = (index + rows.length) % rows.length;
      rows.forEach((row, k) => { row.open = k === this.here; });
      rows[this.here].querySelector("summary").focus();
      rows[this.here].scrollIntoView({ block: "nearest" });
      for (const box of this.$root.querySelectorAll("[data-fault]"))
        box.classList.toggle("is-here", Number(box.dataset.fault) === this.here + 1);
    },
    tap(event) {
      const box = event.target.closest("[data-fault]");
      if (box) return this.show(Number(box.dataset.fault) - 1);
      const drawing = event.target.closest("svg");
      if (!drawing) return;
      const place = drawing.getBoundingClientRect(), size = drawing.viewBox.baseVal, mm = Number(this.$root.dataset.pxMm);
      if (this.$refs.more.tagName === "DETAILS") this.$refs.more.open = true;
      this.set("x_mm", ((event.clientX - place.left) / place.width) * size.width / mm);
      this.set("y_mm", ((event.clientY - place.top) / place.height) * size.height / mm);
      this.said = "Say what it is and mark it, or tap again.";
    },
    set(name, value) { this.$root.querySelector(`[name=${name}]`).value = value.toFixed(1); },
  }));
});
