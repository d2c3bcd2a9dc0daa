/* The tension form: the core's verdict while readings are typed or taken from the gauge. */
"use strict";
document.addEventListener("alpine:init", () => {
  Alpine.data("tension", () => ({
    mean: "–", verdict: "", reason: "Type the readings, or take them from the gauge.", detail: "", ask: null,
    init() { this.ask = Frimble.asker(); },
    async look() {
      const form = this.$root.closest("form");
      const answer = await this.ask(this.$root.dataset.preview, { method: "POST", body: new FormData(form) });
      if (!answer) return;
      this.mean = answer.ready ? answer.mean : "–";
      this.verdict = answer.ready ? answer.verdict : "";
      this.reason = answer.reason;
      this.detail = answer.ready ? `Range ${answer.range}, warp to weft ${answer.difference} N/cm. ${answer.remarks.join(" ")}` : "";
    },
  }));
});
