/* A phone reads labels through its camera, as a hand scanner would; the reader is fetched when it is first wanted. */
const opener = document.querySelector("[data-camera]"), dialog = document.getElementById("camera");
const LOOK_EVERY_MS = 90, WIDEST_PX = 960, HINT_AFTER_MS = 8000;

const FAULTS = {
  NotAllowedError: "The camera is not allowed here. Allow it in the browser's settings for this page, or type the code.",
  NotFoundError: "This device has no camera. Type the code.",
  NotReadableError: "Something else holds the camera. Close that, or type the code.",
};

if (opener && navigator.mediaDevices?.getUserMedia) {
  opener.hidden = false;
  opener.addEventListener("click", open);
}

async function open() {
  const video = dialog.querySelector("video"), say = (words) => { dialog.querySelector("[role=status]").textContent = words; };
  say("Looking for a label …");
  dialog.showModal();
  let stream;
  dialog.addEventListener("close", () => stream?.getTracks().forEach((track) => track.stop()), { once: true });
  try {
    stream = await navigator.mediaDevices.getUserMedia({ video: { facingMode: "environment" } });
    video.srcObject = stream;
    await video.play();
    const { decodeQR } = await import("../vendor/qr/decode.js");
    const code = await look(video, decodeQR, say);
    dialog.close();
    if (code) document.dispatchEvent(new CustomEvent("scanned", { detail: code }));
  } catch (fault) {
    say(FAULTS[fault.name] ?? "The camera cannot be read. Type the code.");
  }
}

/* The first code that is seen, or nothing when the dialog is closed before. */
async function look(video, decodeQR, say) {
  const canvas = document.createElement("canvas"), began = performance.now();
  while (dialog.open) {
    const scale = Math.min(1, WIDEST_PX / video.videoWidth);
    canvas.width = video.videoWidth * scale;
    canvas.height = video.videoHeight * scale;
    const pen = canvas.getContext("2d", { willReadFrequently: true });
    pen.drawImage(video, 0, 0, canvas.width, canvas.height);
    try {
      return decodeQR(pen.getImageData(0, 0, canvas.width, canvas.height)).trim();
    } catch { /* No label in this picture. */ }
    if (performance.now() - began > HINT_AFTER_MS) say("Nothing yet: hold the label flat, a hand's width away, without glare.");
    await new Promise((next) => setTimeout(next, LOOK_EVERY_MS));
  }
  return null;
}
