/* Sends a large picture with its progress shown; what was typed stays when it is refused. */
"use strict";
document.addEventListener("alpine:init", () => {
  Alpine.data("upload", () => ({
    busy: false,
    share: 0,
    said: "",
    what() { return this.$root.dataset.what || "scan"; },
    send() {
      const form = this.$root;
      const request = new XMLHttpRequest();
      this.busy = true;
      this.said = `Sending the ${this.what()}`;
      request.upload.onprogress = (e) => { if (e.lengthComputable) this.share = (100 * e.loaded) / e.total; };
      request.upload.onload = () => { this.said = `Reading the ${this.what()}`; };
      request.onload = () => {
        if (request.status === 200) return window.location.assign(request.responseURL);
        this.busy = false;
        this.show(request);
      };
      request.onerror = () => {
        this.busy = false;
        this.said = `The ${this.what()} did not arrive: the connection broke. Send it again.`;
      };
      request.open("POST", form.action || window.location.href);
      request.send(new FormData(form));
    },
    /* The refused page's messages, beside a form that still holds the file. */
    show(request) {
      const page = new DOMParser().parseFromString(request.responseText, "text/html");
      const found = [...page.querySelectorAll("main .field-error, main .errors p")].map((e) => e.textContent.trim());
      this.said = found.join(" ") || `The ${this.what()} was not taken. Try again.`;
    },
  }));
});
