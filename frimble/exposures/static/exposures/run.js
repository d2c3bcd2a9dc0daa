/* The dark-room timer. A run is its taps: kept here until the server has them, read back after a reload. */
"use strict";
document.addEventListener("alpine:init", () => {
  Alpine.data("runner", () => ({
    state: null, taps: [], queue: [], skew: 0, held: false, now: 0, error: "", offline: false, sending: false, beeped: -1, flashing: false, sound: Frimble.sound(),

    init() {
      this.state = JSON.parse(document.getElementById("run-state").textContent);
      this.key = `frimble-run-${this.state.id}`;
      const kept = this.kept();
      this.queue = kept.queue ?? [];
      this.skew = this.state.now - Date.now();
      /* The clock of its first tap, unless this device's own was set meanwhile. */
      this.held = Math.abs(kept.skew - this.skew) < 5000;
      if (this.held) this.skew = kept.skew;
      this.merge();
      this.now = this.clock();
      this.setClock();
      this.send();
      setInterval(() => this.beat(), 50);
      setInterval(() => this.send(), 1000);
      window.addEventListener("online", () => this.send());
      document.addEventListener("changed", () => this.follow());
      this.stayAwake();
      document.addEventListener("visibilitychange", () => { if (!document.hidden) this.stayAwake(); });
    },

    /* The server's clock, from the quickest of a few round trips; a page that loaded slowly must not tap late.
       From its first tap here on a run keeps to one clock: a correction between two taps would be light never given. */
    async setClock() {
      let quickest = Infinity;
      for (let n = 0; n < 4 && !this.held; n += 1) {
        try {
          const sent = Date.now();
          const answer = await (await this.post([])).json();
          const trip = Date.now() - sent;
          if (answer.now && trip < quickest && !this.held) { quickest = trip; this.skew = answer.now - (sent + trip / 2); }
        } catch { return; /* no network: the page's own figure stands */ }
      }
    },
    post(taps) {
      return fetch(this.$root.dataset.taps, {
        method: "POST", body: JSON.stringify({ taps }), redirect: "error", signal: AbortSignal.timeout(8000),
        headers: { "Content-Type": "application/json", "X-CSRFToken": this.$root.querySelector("[name=csrfmiddlewaretoken]").value },
      });
    },
    clock() { return Math.max(Date.now() + this.skew, this.taps.at(-1)?.at ?? 0); },
    merge() {
      const known = new Set(this.state.taps.map((tap) => tap.uid));
      this.queue = this.queue.filter((tap) => !known.has(tap.uid));
      this.taps = [...this.state.taps, ...this.queue].sort((a, b) => a.at - b.at);
    },
    kept() { try { return JSON.parse(localStorage.getItem(this.key)) || {}; } catch { return {}; } },
    keep() { try { localStorage.setItem(this.key, JSON.stringify({ queue: this.queue, skew: this.skew })); } catch { /* kept in memory only */ } },
    async stayAwake() { try { await navigator.wakeLock?.request("screen"); } catch { /* not offered here */ } },

    /* What the taps say */
    at(kind) { return this.taps.find((tap) => tap.kind === kind)?.at; },
    get moved() { return this.taps.filter((tap) => tap.kind === "move").length; },
    get phase() {
      if (this.state.status === "abandoned") return "abandoned";
      if (this.at("stop")) return "done";
      if (this.at("start")) return "light";
      return this.at("warm_up") ? "warm" : "ready";
    },
    get gone() { return ((this.at("stop") ?? this.now) - (this.at("start") ?? this.now)) / 1000; },
    get next() { return this.moved < this.state.moves.length ? this.state.moves[this.moved] : this.state.total; },
    get left() { return this.next - this.gone; },

    /* What the page shows */
    get isTest() { return this.state.times.length > 0; },
    get isDone() { return this.phase === "done"; },
    get mayBeginAgain() { return this.phase === "abandoned"; },
    get canTap() { return !["done", "abandoned"].includes(this.phase); },
    get isOver() { return !this.canTap; },
    get canStop() { return this.phase === "light" && this.moved < this.state.moves.length; },
    get canAbandon() { return ["ready", "warm"].includes(this.phase); },
    get flash() { return this.flashing ? "flash" : ""; },
    get verb() { return this.state.card === "uncover" ? "uncover" : "cover"; },
    get what() {
      if (this.phase === "abandoned") return "This run ended without light";
      if (this.phase === "ready") return this.state.warmUp ? "Lamp on, shutter closed: warm up first" : this.isTest ? `Moving card, ${this.state.moves.length} moves` : "One exposure";
      if (this.phase === "warm") return "Warming up; this does not count";
      if (this.isDone) return "Light off";
      if (this.moved < this.state.moves.length) return `Move ${this.moved + 1} of ${this.state.moves.length}: ${this.verb} strip ${this.state.strips[this.moved]} next`;
      return "No more moves: lamp off next";
    },
    get count() {
      if (this.phase === "warm") return this.signed(this.state.warmUp - (this.now - this.at("warm_up")) / 1000);
      if (this.phase === "light") return this.signed(this.left);
      return this.tenth(this.isOver ? this.gone : this.state.total);
    },
    signed(seconds) { return (seconds < 0 ? "+" : "") + this.tenth(Math.abs(seconds)); },
    tenth(seconds) { return Frimble.written(seconds.toFixed(1)); },
    get under() {
      if (this.phase === "warm") return "seconds until the lamp is warm";
      if (this.isOver) return "seconds the lamp was on";
      if (this.phase !== "light") return "seconds with the lamp on";
      const to = this.moved < this.state.moves.length ? "the next move" : "lamp off";
      return this.left < 0 ? `seconds past ${to}` : `seconds to ${to}`;
    },
    get label() {
      if (this.phase === "ready") return this.state.warmUp ? "Warm up" : "Lamp on";
      if (this.phase === "warm") return "Shutter open";
      return this.moved < this.state.moves.length ? "Moved" : "Lamp off";
    },
    get lag() {
      return this.state.lag ? ` ${this.tenth(this.state.lag)} s of it are what this lamp takes to start: they count as no light.` : "";
    },
    get strips() {
      const done = this.state.strips.slice(0, this.moved);
      const nextStrip = this.phase === "light" ? this.state.strips[this.moved] : null;
      return this.state.times.map((time, index) => {
        const strip = index + 1;
        const open = this.verb === "cover" ? !done.includes(strip) : strip === 1 || done.includes(strip);
        return { time: Frimble.written(`${time} s`), says: `${strip} ${open ? "open" : "covered"}`, look: (open ? "open" : "gone") + (strip === nextStrip ? " next" : "") };
      }).reverse();
    },
    get trouble() {
      if (this.error || this.state.trouble) return Frimble.written(this.error || this.state.trouble);
      if (this.queue.length && this.offline) return `No network: ${this.queue.length === 1 ? "1 tap is" : `${this.queue.length} taps are`} kept here and sent when it is back.`;
      return "";
    },
    get foot() {
      if (this.phase === "light") return `${this.tenth(this.gone)} s gone of ${this.tenth(this.state.total)}. Eyes off the lamp; cover closed. Runs on if this page closes.`;
      if (this.isDone) return this.queue.length ? "Sending the taps." : `Recorded.${this.lag}`;
      if (this.isOver) return "";
      return "Tap with the lamp: the taps as they fall are what is analysed.";
    },

    /* What a hand does */
    tap() {
      if (this.phase === "ready") return this.add(this.state.warmUp ? "warm_up" : "start");
      if (this.phase === "warm") return this.add("start");
      this.add(this.moved < this.state.moves.length ? "move" : "stop");
    },
    lampOff() { this.add("stop"); },
    add(kind) {
      this.sound.wake();
      this.error = "";
      this.held = true;
      const uid = crypto.randomUUID ? crypto.randomUUID() : this.uuid();
      this.now = this.clock();
      this.queue = [...this.queue, { uid, kind, at: this.now }];
      this.beeped = -1;
      this.keep();
      this.merge();
      this.send();
    },
    uuid() {
      const bytes = crypto.getRandomValues(new Uint8Array(16));
      bytes[6] = (bytes[6] & 15) | 64;
      bytes[8] = (bytes[8] & 63) | 128;
      const hex = [...bytes].map((byte) => byte.toString(16).padStart(2, "0")).join("");
      return hex.replace(/(.{8})(.{4})(.{4})(.{4})(.{12})/, "$1-$2-$3-$4-$5");
    },
    async send() {
      if (this.sending || !this.queue.length) return;
      this.sending = true;
      const sent = [...this.queue];
      try {
        const reply = await this.post(sent);
        if (reply.ok || reply.status === 422) {
          const answer = await reply.json();
          this.error = answer.error || "";
          this.state = answer;
          /* Refused taps are dropped: the page shows the run as the server has it, and why. */
          if (reply.status === 422) this.queue = this.queue.filter((tap) => !sent.includes(tap));
          this.offline = false;
          this.merge();
          this.keep();
        } else {
          this.offline = true;
          if (reply.status === 403) this.error = "Load this page again, signed in: the taps are kept here and sent then.";
        }
      } catch {
        this.offline = true;
      }
      this.sending = false;
    },

    /* Somebody tapped on another device. An answer from before a tap of this one is of no use. */
    async follow() {
      try {
        const answer = await (await this.post([])).json();
        if (!(answer.taps?.length >= this.state.taps.length)) return;
        this.state = answer;
        this.merge();
      } catch { /* No network, or nobody who may: the page stays as it is. */ }
    },

    /* Sound and flash before each move: one a second from the warning on, a long one at the moment. */
    beat() {
      this.now = this.clock();
      if (this.phase !== "light") { this.flashing = false; return; }
      const left = this.left;
      const mark = Math.ceil(left);
      if (left > this.state.alert || left < -2) { this.flashing = false; return; }
      this.flashing = left <= 0 || left - Math.floor(left) > 0.65;
      if (mark !== this.beeped && mark >= 0) {
        this.beeped = mark;
        this.sound.beep(mark === 0 ? 880 : 520, mark === 0 ? 0.5 : 0.12);
      }
    },
  }));
});
