/* Images on a screen, moved by hand or arrow keys: the place goes into its row, and the core draws the plan anew. */
"use strict";
document.addEventListener("alpine:init", () => {
  const KEYS = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] };
  Alpine.data("placement", () => ({
    ask: null,
    held: null,
    address: location.search,
    init() { this.ask = Frimble.asker(); },
    /* The field of an image's row: the rows left empty have no image. */
    field(image, name) {
      const rows = [...this.$refs.form.querySelectorAll(".placed-image")].filter((row) =>
        row.querySelector("[name$=-record]").value || row.querySelector("[name$=-width]").value.trim());
      return rows[image]?.querySelector(`[name$=-${name}]`);
    },
    /* mm on the frame of a place on the screen. */
    at(event) {
      const svg = this.$refs.plan.querySelector("svg.placement");
      const point = new DOMPoint(event.clientX, event.clientY).matrixTransform(svg.getScreenCTM().inverse());
      return [point.x, point.y];
    },
    /* Where an image's middle lies now, from the frame's middle. */
    middle(group) {
      const svg = group.ownerSVGElement.viewBox.baseVal, box = group.querySelector("rect");
      const of = (name) => Number(box.getAttribute(name));
      return [of("x") + of("width") / 2 - svg.width / 2, of("y") + of("height") / 2 - svg.height / 2];
    },
    grab(event) {
      const group = event.target.closest?.("[data-image]");
      if (!group) return;
      event.preventDefault();
      group.focus();
      // The drawing is made anew under the hand: what holds the pointer stays.
      this.$root.setPointerCapture(event.pointerId);
      const from = this.at(event);
      this.held = { image: group.dataset.image, from, drawn: from, now: from, middle: this.middle(group), asking: false };
    },
    drag(event) {
      if (!this.held) return;
      this.held.now = this.at(event);
      this.shift();
      this.follow();
    },
    group(image) { return this.$refs.plan.querySelector(`[data-image="${image}"]`); },
    /* The image under the hand, as far from where the core drew it last as the hand has gone since. */
    shift() {
      const { image, drawn, now } = this.held;
      this.group(image)?.setAttribute("transform", `translate(${now[0] - drawn[0]} ${now[1] - drawn[1]})`);
    },
    moved() { return [0, 1].map((k) => this.held.now[k] - this.held.from[k]); },
    place() { return this.moved().map((far, k) => this.held.middle[k] + far); },
    /* The core draws rails, ghost images and warnings anew while the hand moves, one answer after the other. */
    async follow() {
      const held = this.held;
      if (held.asking || Math.hypot(...this.moved()) < 0.5) return;
      held.asking = true;
      while (this.held === held && held.drawn !== held.now) {
        const asked = held.now;
        this.type(held.image, this.place());
        await this.look(() => { held.drawn = asked; });
        if (held.drawn !== asked) break;
        if (this.held === held) this.shift();
      }
      held.asking = false;
    },
    drop() {
      if (!this.held) return;
      const { image } = this.held, place = this.place(), far = Math.hypot(...this.moved());
      this.held = null;
      if (far >= 0.5) this.put(image, ...place);
    },
    nudge(event) {
      const group = event.target.closest?.("[data-image]");
      if (!group) return;
      const step = KEYS[event.key], image = group.dataset.image;
      if (step) {
        event.preventDefault();
        const far = event.shiftKey ? 10 : 1, [x, y] = this.middle(group);
        this.put(image, x + step[0] * far, y + step[1] * far);
      } else if (event.key === "r") {
        const turned = this.field(image, "turned");
        turned.checked = !turned.checked;
        this.put(image, ...this.middle(group));
      }
    },
    type(image, place) {
      ["x", "y"].forEach((name, k) => { this.field(image, name).value = place[k].toFixed(0); });
    },
    async put(image, x, y) {
      this.type(image, [x, y]);
      await this.look();
      this.group(image)?.focus();
    },
    async look(drawn = () => {}) {
      const asked = new URLSearchParams(new FormData(this.$refs.form));
      this.address = `?${asked}`;
      const plan = await this.ask(`${location.pathname}?${asked}`, { headers: { "X-Part": "plan" } });
      if (plan === null) return;
      this.$refs.plan.innerHTML = plan;
      drawn();
    },
    add() {
      const count = this.$refs.form.querySelector("[name$=TOTAL_FORMS]"), number = Number(count.value);
      const row = this.$refs.empty.innerHTML.replaceAll("__prefix__", number);
      this.$refs.rows.insertAdjacentHTML("beforeend", row);
      count.value = number + 1;
      this.$refs.rows.lastElementChild.querySelector("select").focus();
    },
  }));
});
