/* Sound cues of the timers: woken by a tap, silent where a browser has none. */
"use strict";
Frimble.sound = () => {
  let audio = null;
  return {
    wake() { try { audio = audio || new AudioContext(); audio.resume(); } catch { /* no sound here: the flash serves */ } },
    beep(pitch, seconds) {
      if (!audio) return;
      const tone = audio.createOscillator();
      const volume = audio.createGain();
      tone.frequency.value = pitch;
      volume.gain.value = 0.25;
      tone.connect(volume).connect(audio.destination);
      tone.start();
      tone.stop(audio.currentTime + seconds);
    },
  };
};
