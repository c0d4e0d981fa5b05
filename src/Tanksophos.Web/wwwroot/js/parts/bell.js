// Sound and vibration are allowed once somebody has touched the page.
export function bell() {
  let sound = null, rang = null;
  const touched = () => !navigator.userActivation || navigator.userActivation.hasBeenActive;
  function beep(pitch, length) {
    if (!sound) return;
    const tone = sound.createOscillator(), loud = sound.createGain();
    tone.frequency.value = pitch;
    tone.type = 'square';
    loud.gain.value = 0.35;
    tone.connect(loud);
    loud.connect(sound.destination);
    tone.start();
    tone.stop(sound.currentTime + length);
  }
  return {
    ready() {
      if (!touched()) return;
      try {
        sound ??= new AudioContext();
        if (sound.state === 'suspended') sound.resume();
      } catch { sound = null; }
    },
    ring(kind, now) {
      const second = Math.floor(now / 1000);
      if (rang === kind + second || (kind === 'warn' && second % 3)) return;
      rang = kind + second;
      beep(kind === 'warn' ? 880 : 1320, kind === 'warn' ? 0.12 : 0.6);
      if (navigator.vibrate && touched()) navigator.vibrate(kind === 'warn' ? 120 : [400, 120, 400]);
    },
  };
}
