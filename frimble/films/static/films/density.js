/* A reading from the simulated densitometer into the form. */
"use strict";
document.addEventListener("alpine:init", () => {
  Alpine.data("density", () => ({
    said: "",
    async take() {
      const form = this.$root;
      try {
        const reading = await (await fetch(form.dataset.url)).json();
        form.elements.dmax.value = reading.dmax;
        form.elements.dmin.value = reading.dmin;
        form.elements.simulated.value = "True";
        this.said = "Read by the simulated densitometer; the record is marked so.";
      } catch {
        this.said = "The densitometer does not answer. Type its reading.";
      }
    },
  }));
});
