/* The tension form: readings from the gauge, and the core's verdict while typing. */
"use strict";
document.addEventListener("alpine:init", () => {
  Alpine.data("tension", () => ({
    mean: "–", verdict: "", reason: "Type the readings, or take them from the gauge.", detail: "",
    async look() {
      const root = this.$root;
      let answer;
      try {
        answer = await (await fetch(root.dataset.preview, { method: "POST", body: new FormData(root) })).json();
      } catch {
        return; /* no network: the verdict comes with the record */
      }
      this.mean = answer.ready ? answer.mean : "–";
      this.verdict = answer.ready ? answer.verdict : "";
      this.reason = answer.reason;
      this.detail = answer.ready ? `Range ${answer.range}, warp to weft ${answer.difference} N/cm. ${answer.remarks.join(" ")}` : "";
    },
    async take() {
      const root = this.$root;
      try {
        const { values } = await (await fetch(root.dataset.gauge)).json();
        for (const [name, value] of Object.entries(values)) root.elements[name].value = value;
        root.elements.simulated.value = "True";
        await this.look();
      } catch {
        this.reason = "The gauge does not answer. Type the readings.";
      }
    },
  }));
});
