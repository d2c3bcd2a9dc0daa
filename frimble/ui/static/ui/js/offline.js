/* Registers the worker that shows last seen pages without a network, and says on a page that it is one of those. */
"use strict";
(() => {
  const { keptAt } = document.body.dataset;
  if (navigator.serviceWorker) {
    if (document.body.hasAttribute("data-signed-in")) navigator.serviceWorker.register("/worker.js").catch(() => {});
    else navigator.serviceWorker.controller?.postMessage("forget");
  }
  if (!keptAt) {
    const ahead = [...document.querySelectorAll("main a[data-ahead]")].map((link) => new URL(link.href).pathname);
    if (ahead.length) navigator.serviceWorker?.controller?.postMessage({ ahead });
    return;
  }
  const said = document.createElement("p");
  said.className = "offline";
  said.setAttribute("role", "status");
  const kept = new Date(keptAt).toLocaleString("en-GB", { day: "numeric", month: "long", hour: "2-digit", minute: "2-digit" });
  said.textContent = `Offline: this page is as it was on ${kept}. What is recorded on it waits on this device until the network is back.`;
  document.querySelector("main").prepend(said);
  for (const button of document.querySelectorAll("main form[method=post]:not([data-keeps]) button")) button.disabled = true;
})();
