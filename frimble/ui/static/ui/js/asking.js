/* What every page with measurements does: fill its form from an instrument, and ask the server while somebody types. */
"use strict";
window.Frimble = {
  /* Words with the decimal sign of the house, as the server writes them on the page. */
  written(words) {
    return document.body.hasAttribute("data-comma") ? words.replace(/(\d)\.(\d)/g, "$1,$2") : words;
  },
  /* Puts an instrument's values into the fields of a form that bear their names, and marks what a simulated one said.
     Gives the instrument's name. */
  async readInto(form, url) {
    const { values, simulated, name } = await (await fetch(url)).json();
    const read = Object.entries(values).filter(([field]) => form.elements[field]);
    for (const [field, value] of read) {
      const control = form.elements[field];
      control.value = control.inputMode === "decimal" ? Frimble.written(String(value)) : value;
    }
    if (form.elements.simulated) form.elements.simulated.value = simulated ? "True" : "";
    /* From a field, so that whatever part of the form works with it hears of it. */
    if (read.length) form.elements[read[0][0]].dispatchEvent(new Event("change", { bubbles: true }));
    return name;
  },
  /* A function that asks the server; null when a later question overtook this one, or no network: the form still sends. */
  asker() {
    let asked = 0;
    return async (url, options = {}) => {
      const mine = ++asked;
      try {
        const answer = await fetch(url, options);
        const text = await answer.text();
        if (mine !== asked) return null;
        if (!answer.headers.get("Content-Type").startsWith("application/json")) return text;
        return JSON.parse(text, (_, said) => (typeof said === "string" ? Frimble.written(said) : said));
      } catch {
        return null;
      }
    };
  },
};
document.addEventListener("alpine:init", () => {
  /* Stands on a form or inside one: data-instrument is its address, data-name what it is called. */
  Alpine.data("instrument", () => ({
    async take() {
      const { instrument, name } = this.$root.dataset;
      try {
        const by = await Frimble.readInto(this.$root.closest("form"), instrument);
        this.$refs.said.textContent = `Read by the ${by}.`;
      } catch {
        this.$refs.said.textContent = `The ${name} does not answer. Type its reading.`;
      }
    },
  }));
});
