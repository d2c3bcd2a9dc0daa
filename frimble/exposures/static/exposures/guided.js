/* Guided reading: one strip at a time; without scripts all of them stand below each other. */
"use strict";
document.addEventListener("alpine:init", () => {
  Alpine.data("guided", () => ({
    up: 0,
    count: 1,
    init() {
      const strips = this.strips();
      this.count = strips.length;
      this.only(Math.max(0, strips.findIndex((strip) => strip.querySelector(".has-error"))));
    },
    strips() { return [...this.$root.querySelectorAll("[data-strip]")]; },
    get notFirst() { return this.up > 0; },
    get atLast() { return this.up === this.count - 1; },
    get notLast() { return !this.atLast; },
    back() { this.show(this.up - 1); },
    next() { this.show(this.up + 1); },
    show(place) {
      this.only(Math.min(Math.max(place, 0), this.count - 1));
      const strip = this.strips()[this.up];
      (strip.querySelector("input:checked") || strip.querySelector("input")).focus();
      strip.scrollIntoView({ block: "start" });
    },
    only(place) {
      this.up = place;
      this.strips().forEach((strip, k) => { strip.hidden = k !== place; });
    },
    key(event) {
      const typing = event.target.matches("input[type=text], textarea, select");
      if (typing || event.ctrlKey || event.metaKey || event.altKey) return;
      if (event.key === "ArrowRight") { event.preventDefault(); this.next(); }
      if (event.key === "ArrowLeft") { event.preventDefault(); this.back(); }
    },
  }));
});
