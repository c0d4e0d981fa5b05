// A stopwatch for the bucket test: press when the water starts, press when the bucket is full.
import word from './words.js';

export default () => ({
  from: null, seconds: '', timer: null,
  init() { this.seconds = this.$root.querySelector('[name=seconds]').value; },
  press() {
    if (this.from === null) {
      this.from = performance.now();
      this.timer = setInterval(() => { this.seconds = ((performance.now() - this.from) / 1000).toFixed(0); }, 200);
      return;
    }
    clearInterval(this.timer);
    this.seconds = ((performance.now() - this.from) / 1000).toFixed(1);
    this.from = null;
  },
  get words() { return this.from === null ? word('start-timer') : word('bucket-full'); },
});
