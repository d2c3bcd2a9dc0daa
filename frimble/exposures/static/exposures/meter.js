/* Reads the simulated light meter into the form it stands in, and marks the record so. */
"use strict";
document.addEventListener("alpine:init", () => {
  Alpine.data("meter", () => ({
    said: "",
    async take() {
      const form = this.$root;
      try {
        const found = await (await fetch(form.dataset.meter)).json();
        const one = form.querySelector("[name=light_mw_cm2], [name=meter]");
        const nine = form.querySelector("[name=field]");
        if (one) one.value = found.light;
        if (nine) nine.value = found.field.map((row) => row.join(" ")).join("\n");
        const mark = form.querySelector("[name=simulated]");
        if (mark) mark.value = "True";
        this.said = "Read from the simulated meter.";
      } catch {
        this.said = "The meter does not answer.";
      }
    },
  }));
});
