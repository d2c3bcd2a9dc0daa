/* The coat form: the formula as steps to tick off and the drying time, both worked out by the core. */
"use strict";
document.addEventListener("alpine:init", () => {
  Alpine.data("coat", () => ({
    steps: [], notes: [], problem: "", dry: "", eom: "", asked: 0,
    get hasSteps() { return this.steps.length > 0; },
    init() { const typed = this.$root.closest("form").elements.formula; if (typed && typed.value) this.look(); },
    async look() {
      const form = this.$root.closest("form");
      if (!form.elements.formula || !form.elements.formula.value.trim()) return;
      const mine = ++this.asked;
      let answer;
      try {
        answer = await (await fetch(`${this.$root.dataset.preview}?${new URLSearchParams(new FormData(form))}`)).json();
      } catch {
        return; /* no network: the form still sends */
      }
      if (mine !== this.asked) return;
      this.problem = answer.ok ? "" : answer.reason;
      const steps = answer.ok ? answer.steps : [];
      if (steps.join() !== this.steps.join()) this.steps = steps;
      this.notes = answer.ok ? answer.notes : [];
      this.dry = answer.ok ? answer.dry : "";
      this.eom = answer.ok ? answer.eom : "";
    },
    async cabinet() {
      const form = this.$root.closest("form");
      try {
        const reading = await (await fetch(this.$root.dataset.cabinet)).json();
        form.elements.air_c.value = reading.air_c;
        form.elements.humidity.value = reading.humidity;
        if (form.elements.simulated) form.elements.simulated.value = "True";
        await this.look();
      } catch {
        this.dry = "The hygrometer does not answer. Type temperature and humidity.";
      }
    },
  }));
});
