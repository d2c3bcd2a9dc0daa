/* The coat planner: what a formula comes to, worked out by the core while it is tapped. */
"use strict";
document.addEventListener("alpine:init", () => {
  Alpine.data("planner", () => ({
    ask: null,
    init() { this.ask = Frimble.asker(); },
    async look() {
      const form = this.$root.querySelector("form");
      if (!form.elements.formula.value.trim()) return;
      const asked = new URLSearchParams(new FormData(form));
      const words = await this.ask(`${location.pathname}?${asked}`, { headers: { "X-Part": "effects" } });
      if (words !== null) this.$refs.effects.innerHTML = words;
    },
  }));
});
