/* The rack is drawn while its columns, rows and slots are typed. */
"use strict";
document.addEventListener("alpine:init", () => {
  Alpine.data("rack", () => ({
    ask: Frimble.asker(),
    init() { this.draw(); },
    async draw() {
      const typed = new URLSearchParams(new FormData(this.$root));
      typed.delete("csrfmiddlewaretoken");
      const drawing = await this.ask(`${this.$root.dataset.drawn}?${typed}`);
      if (drawing !== null) this.$refs.drawn.innerHTML = drawing;
    },
  }));
});
