// Setting up a rig in three steps; without scripts all of them stand on one page.
import redraw from './redraw.js';

const steps = 3;

export default () => ({
  step: 1, drawing: null,
  init() {
    this.step = Number(this.$root.dataset.first);
    this.drawing = redraw(this.$root);
  },
  typed() { this.drawing.soon(); },
  away(el) { return Number(el.dataset.step) !== this.step; },
  current(el) { return Number(el.dataset.stepTo) === this.step ? 'step' : null; },
  // A step is left only when what it asks is answered; going back is always possible.
  to(step) {
    for (const part of this.$root.querySelectorAll('[data-step]')) {
      if (Number(part.dataset.step) < this.step || Number(part.dataset.step) >= step) continue;
      for (const field of part.querySelectorAll('input, select')) {
        if (field.checkValidity()) continue;
        this.step = Number(part.dataset.step);
        this.$nextTick(() => field.reportValidity());
        return;
      }
    }
    this.step = step;
    this.$nextTick(() => this.$root.scrollIntoView({ block: 'nearest' }));
  },
  go(el) { this.to(Number(el.dataset.stepTo)); },
  // The Enter key goes on; in the last step it finishes.
  enter(event) {
    if (this.last || event.target.tagName === 'BUTTON') return;
    event.preventDefault();
    this.next();
  },
  next() { this.to(this.step + 1); },
  back() { this.to(this.step - 1); },
  get first() { return this.step === 1; },
  get last() { return this.step === steps; },
  get notLast() { return this.step !== steps; },
});
