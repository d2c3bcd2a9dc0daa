/* Each tap and each answer weighs the causes anew; the address keeps what was tapped. */
"use strict";
document.addEventListener("alpine:init", () => {
  Alpine.data("diagnosis", () => ({
    asker: Frimble.asker(),
    async ask() {
      const asked = new URLSearchParams(new FormData(this.$root));
      for (const [name, value] of [...asked]) if (value === "") asked.delete(name, value);
      history.replaceState(null, "", `?${asked}`);
      const answer = await this.asker(`?${asked}&part=1`);
      if (answer === null) return;
      const typing = document.activeElement?.name;
      this.$refs.answer.innerHTML = answer;
      if (typing && typing !== "symptoms") this.$refs.answer.querySelector(`[name="${CSS.escape(typing)}"]`)?.focus();
    },
  }));
});
