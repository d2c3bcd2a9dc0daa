/* The coat planner: what a formula comes to, worked out by the core while it is tapped. */
"use strict";
document.addEventListener("alpine:init", () => {
  Alpine.data("planner", () => ({
    asked: 0,
    async look() {
      const form = this.$root.querySelector("form");
      if (!form.elements.formula.value.trim()) return;
      const mine = ++this.asked;
      try {
        const asked = new URLSearchParams(new FormData(form));
        const answer = await fetch(`${location.pathname}?${asked}`, { headers: { "X-Part": "effects" } });
        const words = await answer.text();
        if (mine === this.asked) this.$refs.effects.innerHTML = words;
      } catch {
        /* no network: the button still sends */
      }
    },
  }));
});
