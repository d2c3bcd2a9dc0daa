/* Readings from the thickness gauge into the form. */
"use strict";
document.addEventListener("alpine:init", () => {
  Alpine.data("thickness", () => ({
    said: "Take readings asks the simulated gauge and marks the record so.",
    async take() {
      const form = this.$root;
      try {
        const told = await (await fetch(form.dataset.gauge)).json();
        form.elements.bare_um.value = told.bare_um;
        form.elements.coated_um.value = told.coated_um;
        form.elements.simulated.value = "True";
        this.said = "Taken from the gauge.";
      } catch {
        this.said = "The gauge does not answer. Type the readings.";
      }
    },
  }));
});
