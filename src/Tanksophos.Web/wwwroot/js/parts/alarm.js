// Rings while something has to stop at once, until somebody says that it was heard. If it still goes on a while later, it rings again.
import { bell } from './bell.js';

const quiet = 10 * 60 * 1000;

export default () => ({
  heard: false,
  init() {
    const kept = `alarm-${this.$root.dataset.alarm}`, sound = bell();
    this.heard = Date.now() - Number(sessionStorage.getItem(kept)) < quiet;
    this.$watch('heard', () => sessionStorage.setItem(kept, Date.now()));
    if (this.heard) return;
    this.$nextTick(() => this.$root.scrollIntoView({ block: 'start' }));
    const timer = setInterval(() => {
      if (this.heard) { clearInterval(timer); return; }
      sound.ready();
      sound.ring('alarm', Date.now());
    }, 1000);
  },
  hear() { this.heard = true; },
});
