/* A count-down for soak and dwell; it only reminds, nothing is recorded from it. */
"use strict";
document.addEventListener("alpine:init", () => {
  Alpine.data("dwell", () => ({
    total: 0, shown: "", said: "", ends: 0, timer: null,
    init() { this.total = Number(this.$root.dataset.seconds); this.shown = String(this.total); },
    toggle() {
      if (this.timer) return this.stop();
      this.said = "";
      this.ends = Date.now() + this.total * 1000;
      this.timer = setInterval(() => this.tick(), 200);
    },
    tick() {
      const left = Math.ceil((this.ends - Date.now()) / 1000);
      this.shown = String(Math.max(left, 0));
      if (left > 0 && left <= Math.max(5, this.total / 5)) this.said = "Water ready: it must not dry.";
      if (left <= 0) { this.said = "Time is up. Do not let it dry."; this.stop(); this.shown = "0"; }
    },
    stop() { clearInterval(this.timer); this.timer = null; this.shown = String(this.total); },
  }));
});
