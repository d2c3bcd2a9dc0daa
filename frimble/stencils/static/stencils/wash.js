/* Soak and rinse as a run: three taps, kept on this device until they are recorded, and what each moment says. */
"use strict";
document.addEventListener("alpine:init", () => {
  Alpine.data("wash", () => ({
    run: null, taps: {}, now: 0, flashing: false, sound: Frimble.sound(), beeped: "", latent: "",

    init() {
      this.run = JSON.parse(document.getElementById("wash-run").textContent);
      try { this.tidy(); } catch { /* nothing is kept here */ }
      this.key = `frimble-wash-${this.run.id}`;
      try { this.taps = JSON.parse(localStorage.getItem(this.key)) || {}; } catch { this.taps = {}; }
      this.now = Date.now();
      this.readLatent();
      this.$root.addEventListener("change", () => this.readLatent());
      setInterval(() => this.beat(), 100);
    },
    readLatent() { this.latent = this.$root.querySelector("[name=latent]:checked")?.value ?? ""; },
    latentIs() { return this.$el.dataset.latent === this.latent; },
    /* Taps of a day ago are of no use any more; several screens may soak at once. */
    tidy() {
      for (const key of Object.keys(localStorage).filter((k) => k.startsWith("frimble-wash-"))) {
        const newest = Math.max(0, ...Object.values(JSON.parse(localStorage.getItem(key)) || {}));
        if (Date.now() - newest > 86400000) localStorage.removeItem(key);
      }
    },
    keep() { try { localStorage.setItem(this.key, JSON.stringify(this.taps)); } catch { /* kept in memory only */ } },

    /* What the taps say */
    get phase() {
      if (this.taps.open) return "open";
      if (this.taps.rinse) return "rinse";
      return this.taps.soak ? "soak" : "ready";
    },
    get soaked() { return ((this.taps.rinse ?? this.now) - (this.taps.soak ?? this.now)) / 1000; },
    get rinsed() { return ((this.taps.open ?? this.now) - (this.taps.rinse ?? this.now)) / 1000; },
    get softAt() { return this.run.soak_s - this.soaked; },

    /* What the page shows */
    get canTap() { return this.phase !== "open"; },
    get canReset() { return this.phase !== "ready"; },
    get flash() { return this.flashing ? "flash" : ""; },
    get label() { return { ready: "Start the soak", soak: "Rinse now", rinse: "All open: stop", open: "" }[this.phase]; },
    get what() {
      return {
        ready: "Wet both sides, then start the soak",
        soak: this.softAt > 0 ? "Soaking: keep it wet" : "Soaked: rinse from the print side (garment side)",
        rinse: "Rinse until every opening passes light",
        open: "Open. Blot both sides, then record it below",
      }[this.phase];
    },
    get count() {
      if (this.phase === "ready") return String(Math.round(this.run.soak_s));
      if (this.phase === "soak") return (this.softAt < 0 ? "+" : "") + Math.abs(Math.ceil(this.softAt));
      return String(Math.floor(this.rinsed));
    },
    get under() {
      if (this.phase === "ready") return "seconds to soak";
      if (this.phase === "soak") return this.softAt < 0 ? "seconds longer than planned" : "seconds left to soak";
      return this.phase === "rinse" ? "seconds of rinse" : "seconds rinsed";
    },
    get said() {
      const passed = this.run.cues.filter((cue) => this.rinsed >= cue.at_s).at(-1);
      if (this.phase === "rinse") return passed;
      if (this.phase !== "open" || !this.run.usual) return null;
      if (this.rinsed < this.run.usual.low) return { words: this.run.short, due: true };
      return this.rinsed > this.run.usual.high ? passed : { words: "As usual.", due: false };
    },
    get cue() { return this.said?.words ?? ""; },
    get cueLook() { return this.said?.due ? "due-text" : ""; },

    /* What a hand does */
    tap() {
      this.sound.wake();
      this.now = Date.now();
      const next = { ready: "soak", soak: "rinse", rinse: "open" }[this.phase];
      this.taps = { ...this.taps, [next]: this.now };
      this.keep();
      if (next !== "open") return;
      this.write("soak_s", this.soaked);
      this.write("rinse_s", this.rinsed);
    },
    write(name, seconds) { this.$root.elements[name].value = String(Math.round(seconds)); },
    reset() { this.taps = {}; this.keep(); },

    /* A tone and a flash when the soak is over and at each cue of the rinse. */
    beat() {
      this.now = Date.now();
      const mark = this.phase === "soak" && this.softAt <= 0 ? "soaked" : this.phase === "rinse" && this.said ? this.said.words : "";
      if (!mark || mark === this.beeped) return;
      this.beeped = mark;
      this.flashing = true;
      setTimeout(() => { this.flashing = false; }, 900);
      this.sound.beep(mark === "soaked" ? 520 : 880, 0.4);
    },
  }));
});
