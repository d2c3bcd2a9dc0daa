/* Tapping a coat formula together: each tap adds to the notation in the form's own field. */
"use strict";
document.addEventListener("alpine:init", () => {
  Alpine.data("formula", () => ({
    round: false, empty: false, turn: false,
    get roundPressed() { return String(this.round); },
    get emptyPressed() { return String(this.empty); },
    get turnPressed() { return String(this.turn); },
    field() { return this.$root.closest("form").elements.formula; },
    put(text) {
      const field = this.field();
      field.value = text;
      field.dispatchEvent(new Event("input", { bubbles: true }));
    },
    add(word) { this.put(`${this.field().value.trim()} ${word}`.trim()); },
    stroke(side) {
      const flags = (this.round ? "r" : "") + (this.empty ? "x" : "") + (this.turn ? "u" : "");
      const words = this.field().value.trim().split(/\s+/);
      const last = /^([PS])(\d+)([rxu]*)$/.exec(words[words.length - 1]);
      this.turn = false;
      /* One more of the same stroke counts up instead of being written twice. */
      if (last && last[1] === side && last[3] === flags) {
        words[words.length - 1] = `${side}${Number(last[2]) + 1}${flags}`;
        this.put(words.join(" "));
      } else {
        this.add(`${side}1${flags}`);
      }
    },
    squeegee() { this.stroke("S"); },
    print() { this.stroke("P"); },
    toggleRound() { this.round = !this.round; },
    toggleEmpty() { this.empty = !this.empty; },
    toggleTurn() { this.turn = !this.turn; },
    wait() { this.add("~30"); },
    dry() { this.add("/"); },
    undo() { this.put(this.field().value.trim().split(/\s+/).slice(0, -1).join(" ")); },
  }));
});
