/* Stencil proof: sliders and taps ask for the visible part; what was asked last is what is shown. */
"use strict";
document.addEventListener("alpine:init", () => {
  Alpine.data("proof", () => ({
    opens: "", stands: "", share: "", problem: "", picture: "", time: "", over: "", mesh: "", ask: null, wanted: null,
    init() {
      this.ask = Frimble.asker();
      this.look();
    },
    form() { return this.$root.querySelector("form"); },
    set(name, value) { this.form().elements[name].value = value; },
    /* A slider is faster than the line: only where it rests for a moment is asked for. */
    look() {
      const form = this.form(), woven = this.woven();
      this.mesh = woven ? woven.textContent : "";
      this.time = Frimble.written(`${Number(form.elements.time_s.value).toPrecision(3)} s`);
      this.over = form.elements.over ? `${form.elements.over.value} µm` : "";
      this.follow(form);
      const first = this.wanted === null;
      this.wanted = new URLSearchParams(new FormData(form));
      if (first) setTimeout(() => this.send(), 60);
    },
    /* The whole film is worked out as the sliders stand. */
    follow(form) {
      for (const name of ["mesh", "time_s"]) {
        const whole = document.querySelector(`[data-whole] [name=${name}]`);
        if (whole) whole.value = form.elements[name].value;
      }
    },
    async send() {
      const asked = this.wanted, d = this.$root.dataset;
      this.wanted = null;
      this.picture = `${d.picture}?${asked}&dark=${d.dark}`;
      const answer = await this.ask(`${d.part}?${asked}`);
      if (!answer) return;
      this.problem = answer.ok ? "" : answer.reason;
      if (answer.ok) Object.assign(this, { opens: answer.opens, stands: answer.stands, share: answer.share });
    },
    woven() { return this.$refs.mesh && this.$refs.meshes.options[this.$refs.mesh.value]; },
    /* Another mesh, with the coat that this formula leaves on it. */
    weave() {
      const { mesh, over } = this.woven().dataset;
      this.set("mesh", mesh);
      this.set("over", over);
    },
    tap(event) {
      const drawing = event.currentTarget.getBoundingClientRect(), d = this.$root.dataset;
      this.set("x", (((event.clientX - drawing.left) / drawing.width) * d.width).toFixed(1));
      this.set("y", (((event.clientY - drawing.top) / drawing.height) * d.height).toFixed(1));
      this.look();
    },
    goTo(event) {
      const [x, y] = event.currentTarget.dataset.middle.split(" ");
      this.set("x", x);
      this.set("y", y);
      this.look();
    },
  }));
});
