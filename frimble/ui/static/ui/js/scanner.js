/* Keys that follow each other as only a scanner's do. A scanner sends the keys of an American keyboard unless it was set up
   otherwise, and the computer reads them by its own layout: there the dash of a label may be ß, and its 1 may be &. */
"use strict";
Frimble.scanner = (() => {
  const GAP_MS = 45;
  /* What our labels bear. */
  const LABEL = /^[a-z0-9-]+$/i;
  let keys = [], last = -Infinity, typedIn = null;

  function american({ code, shiftKey, key }) {
    const [, letter] = /^Key([A-Z])$/.exec(code) ?? [], [, digit] = /^Digit(\d)$/.exec(code) ?? [];
    if (letter) return shiftKey ? letter : letter.toLowerCase();
    if (shiftKey) return key;
    return digit ?? (code === "Minus" ? "-" : key);
  }

  const word = (of) => keys.map((key) => key[of]).join("");

  return {
    GAP_MS,

    /* Whether this key followed the one before it as only a scanner's does. */
    takes(event) {
      const here = event.target === typedIn, fast = here && event.timeStamp - last < GAP_MS;
      last = event.timeStamp;
      typedIn = event.target;
      if (event.key.length === 1) keys = [...(fast ? keys : []), { read: event.key, sent: american(event) }];
      else if (!here) keys = [];
      return fast;
    },

    /* The keys so far, as this computer reads them. */
    read: () => word("read"),

    /* What was scanned, as this computer reads it unless only the American keyboard makes a label of it; the scan is over. */
    taken() {
      const read = word("read"), sent = word("sent");
      keys = [];
      return LABEL.test(read) || !LABEL.test(sent) ? read : sent;
    },
  };
})();

/* Into a field the browser has typed by its own layout: that is mended before the field hears of the scan's end. */
document.addEventListener("keydown", (event) => {
  const field = event.target, { scanner } = Frimble;
  /* A browser that fills a field by itself sends a key without a name. */
  if (!event.key || !field.matches?.("input[type=text], input[type=search], input:not([type])")) return;
  const fast = scanner.takes(event);
  if (event.key !== "Enter" && event.key !== "Tab") return;
  const read = scanner.read(), code = scanner.taken();
  if (!fast || code === read || field.value !== read) return;
  field.value = code;
  field.dispatchEvent(new Event("input", { bubbles: true }));
}, true);
