/* A walk along a rack: each scan of a slot begins a line, a screen ends it. */
"use strict";
document.addEventListener("alpine:init", () => {
  Alpine.data("walk", () => ({
    said: "A slot, then the screen in it; the next slot at once when it is empty.",
    /* A scanner outside the field fills it without Enter: a whole code is taken then. */
    taken(event) { if (!event.isTrusted) this.take(); },
    take() {
      const field = this.$root.querySelector("#scan-here"), list = this.$root.querySelector("[name=walk]");
      const code = field.value.trim().toUpperCase();
      if (!code) return;
      const slot = code.startsWith(this.$root.dataset.prefix);
      const lines = list.value.split("\n").filter((l) => l.trim());
      const open = lines.length && lines[lines.length - 1].trim().split(/\s+/).length === 1;
      if (slot) {
        lines.push(code);
        this.said = `${code}: now the screen in it, or the next slot.`;
      } else if (open) {
        lines[lines.length - 1] += ` ${code}`;
        this.said = `${lines[lines.length - 1]}. Next slot.`;
      } else this.said = `${code} is no slot of this rack: scan the slot first.`;
      list.value = lines.join("\n");
      field.value = "";
      field.focus();
    },
  }));
});
