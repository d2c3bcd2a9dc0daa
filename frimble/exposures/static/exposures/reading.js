/* Grading by keys: arrows move along the strips, u s g c o grade the one in focus. */
"use strict";
document.addEventListener("alpine:init", () => {
  const GRADES = { u: "under", s: "short", g: "good", c: "closing", o: "over" };
  Alpine.data("grading", () => ({
    key(event) {
      if (event.target.type === "text" || event.ctrlKey || event.metaKey || event.altKey) return;
      const strips = [...this.$root.querySelectorAll("[data-strip]")];
      const here = strips.indexOf(event.target.closest("[data-strip]"));
      if (event.key === "ArrowRight" || event.key === "ArrowLeft") {
        event.preventDefault();
        const step = event.key === "ArrowRight" ? 1 : -1;
        return this.focus(strips[Math.min(Math.max(here + step, 0), strips.length - 1)]);
      }
      const radio = GRADES[event.key] && strips[Math.max(here, 0)].querySelector(`input[value="${GRADES[event.key]}"]`);
      if (radio) { event.preventDefault(); event.stopPropagation(); radio.checked = true; radio.focus(); }
    },
    focus(strip) { (strip.querySelector("input:checked") || strip.querySelector("input")).focus(); },
  }));
});
