// The glass test of paper: half a minute, computed from the moment it went into the water.
import word from './words.js';

export default () => ({
  from: null, left: 30, timer: null,
  start() {
    this.from = performance.now();
    this.timer = setInterval(() => {
      this.left = Math.max(0, 30 - (performance.now() - this.from) / 1000);
      if (this.left > 0) return;
      clearInterval(this.timer);
      this.timer = null;
    }, 200);
  },
  get runs() { return this.timer !== null; },
  get clock() { return this.left > 0 ? `0:${String(Math.ceil(this.left)).padStart(2, '0')}` : word('stir'); },
});
