/* The coat form: the formula as steps to tick off and the drying time, both worked out by the core. */
"use strict";
document.addEventListener("alpine:init", () => {
  Alpine.data("coat", () => ({
    steps: [], notes: [], problem: "", dry: "", eom: "", ask: null,
    get hasSteps() { return this.steps.length > 0; },
    init() {
      this.ask = Frimble.asker();
      this.look();
    },
    async look() {
      const form = this.$root.closest("form");
      if (!form.elements.formula || !form.elements.formula.value.trim()) return;
      const answer = await this.ask(`${this.$root.dataset.preview}?${new URLSearchParams(new FormData(form))}`);
      if (!answer) return;
      this.problem = answer.ok ? "" : answer.reason;
      const steps = answer.ok ? answer.steps : [];
      if (steps.join() !== this.steps.join()) this.steps = steps;
      this.notes = answer.ok ? answer.notes : [];
      this.dry = answer.ok ? answer.dry : "";
      this.eom = answer.ok ? answer.eom : "";
    },
  }));
});
