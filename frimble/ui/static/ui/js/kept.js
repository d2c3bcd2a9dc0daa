/* Records made without a network wait on this device, each with the moment it happened, and are sent in order when it is
   back. What the server refuses stays, with what was typed, until somebody has looked at it. */
"use strict";
(() => {
  const STORE = "kept-records", LOOKING = "kept-looking", EVERY_MS = 4000, PATIENCE_MS = 2500;
  const { person, changes } = document.body.dataset;
  if (!person) return;

  const read = () => JSON.parse(localStorage.getItem(STORE) || "[]");
  const write = (records) => { localStorage.setItem(STORE, JSON.stringify(records)); show(); };
  const change = (number, values) => write(read().map((r) => (r.number === number ? { ...r, ...values } : r)));
  const remove = (number) => write(read().filter((r) => r.number !== number));

  async function connected() {
    try {
      return (await fetch(changes, { cache: "no-store", signal: AbortSignal.timeout(PATIENCE_MS) })).status < 500;
    } catch { return false; }
  }

  /* 1. Keeping */

  /* Forms that go on to the server, and those of which it is being asked whether it is there. */
  const passed = new WeakSet(), asking = new WeakSet();

  function keep(form, submitter) {
    const fields = [...new FormData(form, submitter)].filter(([name]) => name !== "csrfmiddlewaretoken");
    if (fields.some(([, value]) => value instanceof File && value.size)) {
      say(form, "No network. A picture cannot wait on this device: leave this page open and send it when the network is back.");
      return;
    }
    const record = {
      number: crypto.randomUUID(), person, code: form.dataset.keeps, path: form.getAttribute("action") || location.pathname,
      what: document.querySelector("h1").textContent.trim().replace(/\s+/g, " "), moment: new Date(Frimble.now()).toISOString(),
      fields: fields.filter(([, value]) => !(value instanceof File)),
    };
    write([...read(), record]);
    form.inert = true;
    panel.querySelector("h2").focus();
  }

  function say(form, words) {
    const line = form.querySelector(".kept-words") ?? form.appendChild(document.createElement("p"));
    line.className = "kept-words due-text";
    line.setAttribute("role", "alert");
    line.textContent = words;
  }

  document.addEventListener("submit", async (event) => {
    const form = event.target, { submitter } = event;
    if (!form.matches("form[data-keeps]") || passed.has(form)) return;
    event.preventDefault();
    /* A second tap while the first waits is the same record. */
    if (asking.has(form)) return;
    asking.add(form);
    if (await connected()) {
      passed.add(form);
      form.requestSubmit(submitter);
      setTimeout(() => passed.delete(form), PATIENCE_MS);
    } else keep(form, submitter);
    asking.delete(form);
  });

  /* 2. Sending */

  const token = () => document.querySelector("[name=csrfmiddlewaretoken]").value;
  const all = (record) => [...record.fields, ["kept_number", record.number], ["kept_moment", record.moment], ["csrfmiddlewaretoken", token()]];
  const revisionOf = (record) => Number(record.fields.find(([name]) => name === "revision")?.[1]);

  /* Its own record moved the screen on by one: the next one kept on the same page goes on from there. */
  function follow(sent, revision) {
    if (revision !== revisionOf(sent) + 1) return;
    write(read().map((r) => (r.code !== sent.code || revisionOf(r) !== revisionOf(sent) ? r
      : { ...r, fields: r.fields.map(([name, value]) => [name, name === "revision" ? String(revision) : value]) })));
  }

  /* Why it was refused, as the page says it; null when it was taken. */
  async function post(record) {
    const answer = await fetch(record.path, { method: "POST", body: new URLSearchParams(all(record)), headers: { "X-Kept": "1" } });
    if (answer.status >= 500 || answer.redirected) throw new Error("not now");
    if (answer.headers.get("Content-Type").startsWith("application/json")) {
      remove(record.number);
      follow(record, (await answer.json()).revision);
      return null;
    }
    const page = new DOMParser().parseFromString(await answer.text(), "text/html");
    const said = page.querySelector("main .field-error") ?? page.querySelector("main .errors") ?? page.querySelector("main p");
    return (said?.textContent ?? "").trim().replace(/\s+/g, " ").slice(0, 240) || "It was not taken.";
  }

  async function send() {
    const stuck = new Set();
    for (const { number } of read()) {
      const record = read().find((r) => r.number === number);
      if (!record || record.person !== person || stuck.has(record.code)) continue;
      const refused = record.refused ?? await post(record);
      if (refused === null) continue;
      stuck.add(record.code);
      if (!record.refused) change(number, { refused });
    }
  }

  /* One page of this browser sends at a time. */
  const alone = (work) => (navigator.locks ? navigator.locks.request("kept", { ifAvailable: true }, (lock) => lock && work()) : work());

  async function look() {
    if (read().some((r) => r.person === person && !r.refused)) await alone(send).catch(() => {});
    setTimeout(look, EVERY_MS);
  }

  /* 3. Showing */

  const panel = document.createElement("section");
  panel.className = "kept";
  panel.hidden = true;
  panel.append(Object.assign(document.createElement("h2"), { tabIndex: -1 }), document.createElement("ul"));
  document.querySelector("main").before(panel);

  function button(words, act) {
    const made = document.createElement("button");
    made.className = "button";
    made.textContent = words;
    made.addEventListener("click", act);
    return made;
  }

  function row(record) {
    const line = document.createElement("li"), at = new Date(record.moment).toLocaleTimeString("en-GB", { hour: "2-digit", minute: "2-digit" });
    const state = record.person !== person ? "It is sent when its person signs in here."
      : record.refused ? `Not taken: ${record.refused}` : "It is sent when the network is back.";
    line.append(Object.assign(document.createElement("b"), { textContent: `${at} ${record.what}` }), ` ${state} `);
    if (record.refused && record.person === person) {
      line.append(button("Look at it", () => lookAt(record)),
        button("Do not record it", () => confirm("Throw away what was typed?") && remove(record.number)));
    }
    return line;
  }

  function show() {
    const records = read();
    panel.hidden = !records.length;
    panel.querySelector("h2").textContent = records.length === 1 ? "1 record waits on this device" : `${records.length} records wait on this device`;
    panel.querySelector("ul").replaceChildren(...records.map(row));
  }

  /* The page itself says what is wrong, with everything typed in its fields; sent from there it is the same record. */
  function lookAt(record) {
    sessionStorage.setItem(LOOKING, JSON.stringify({ number: record.number, moment: record.moment, path: record.path }));
    const form = Object.assign(document.createElement("form"), { method: "post", action: record.path, hidden: true });
    for (const [name, value] of all(record)) form.append(Object.assign(document.createElement("input"), { type: "hidden", name, value }));
    document.body.append(form);
    form.submit();
  }

  const looking = JSON.parse(sessionStorage.getItem(LOOKING) || "null");
  if (looking && looking.path === location.pathname) {
    for (const form of document.querySelectorAll("form[data-keeps]")) {
      for (const [name, value] of [["kept_number", looking.number], ["kept_moment", looking.moment]]) {
        form.append(Object.assign(document.createElement("input"), { type: "hidden", name, value }));
      }
    }
  } else if (looking) {
    /* Sent from its own page by now, perhaps: the server knows. */
    sessionStorage.removeItem(LOOKING);
    change(looking.number, { refused: undefined });
  }

  show();
  window.addEventListener("online", () => alone(send).catch(() => {}));
  window.addEventListener("storage", show);
  look();
})();
