/* A drill against the clock: the first tap lights the lamp, each further one moves the card. */
"use strict";
document.addEventListener("alpine:init", () => {
  Alpine.data("clock", () => ({
    begun: 0, taps: [], shown: Frimble.written("0.0 s"), says: "Light on", taken: "",
    field() { return this.$root.closest("form").elements.taps; },
    tap() {
      const now = performance.now();
      if (!this.begun) {
        this.begun = now;
        this.says = "Move the card";
        return this.tick();
      }
      this.taps.push(((now - this.begun) / 1000).toFixed(2));
      this.field().value = this.taps.join(" ");
      this.taken = `${this.taps.length} taken.`;
    },
    tick() {
      if (!this.begun) return;
      this.shown = Frimble.written(`${((performance.now() - this.begun) / 1000).toFixed(1)} s`);
      setTimeout(() => this.tick(), 100);
    },
    again() {
      this.begun = 0;
      this.taps = [];
      this.field().value = "";
      Object.assign(this, { shown: Frimble.written("0.0 s"), says: "Light on", taken: "" });
    },
  }));
});
