// Rings while something has to stop at once, until somebody says that it was heard. It says so for this alarm, not for the next.
import { bell } from './bell.js';

export default () => ({
  heard: false,
  init() {
    const kept = `alarm-${this.$root.dataset.alarm}`, sound = bell();
    this.heard = sessionStorage.getItem(kept) === 'heard';
    if (this.heard) return;
    sound.ready();
    this.$nextTick(() => this.$root.scrollIntoView({ block: 'start' }));
    const timer = setInterval(() => {
      if (this.heard) { clearInterval(timer); return; }
      sound.ready();
      sound.ring('alarm', Date.now());
    }, 1000);
    this.$watch('heard', () => sessionStorage.setItem(kept, 'heard'));
  },
  hear() { this.heard = true; },
});
