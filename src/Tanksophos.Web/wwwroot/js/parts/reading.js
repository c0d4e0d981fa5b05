// The drawing of one tank as a form: tap the lights, or tap where the liquid seems to stand.
import word from './words.js';

export default () => ({
  lit: [], via: 'panel', fraction: 0.5, percent: 0, top: 0, bottom: 1, monitor: 'none', named: {},
  init() {
    const d = this.$root.dataset;
    this.monitor = d.monitor;
    this.lit = d.lit ? d.lit.split(' ') : [];
    this.named = JSON.parse(d.labels);
    this.fraction = Number(d.fraction);
    this.percent = Number(d.percent);
    this.top = Number(d.top);
    this.bottom = Number(d.bottom);
    this.via = d.monitor === 'none' ? 'sight' : 'panel';
  },
  toggle(event) {
    const probe = event.currentTarget.dataset.probe;
    this.via = 'panel';
    this.lit = this.lit.includes(probe) ? this.lit.filter(p => p !== probe) : [...this.lit, probe];
  },
  stud(probe) { return this.lit.includes(probe) ? 'stud is-lit' : 'stud'; },
  checked(probe) { return this.lit.includes(probe) ? 'true' : 'false'; },
  look(event) {
    const svg = event.currentTarget.ownerSVGElement;
    const point = new DOMPoint(event.clientX, event.clientY).matrixTransform(svg.getScreenCTM().inverse());
    const share = (this.bottom - point.y) / (this.bottom - this.top);
    this.fraction = Math.round(Math.min(1, Math.max(0, share)) * 20) / 20;
    this.via = 'sight';
  },
  slide(event) { this.fraction = Number(event.target.value) / 100; this.via = 'sight'; },
  typePercent(event) { this.percent = Number(event.target.value); this.via = 'panel'; },
  get lookY() { return this.bottom - this.fraction * (this.bottom - this.top); },
  get lookClass() { return this.via === 'sight' ? 'look-line' : 'look-line is-off'; },
  get looked() { return Math.round(this.fraction * 100); },
  get lookedText() { return `${this.looked} %`; },
  get litText() { return this.lit.join(' '); },
  get save() {
    if (this.via === 'sight') return word('save-looked', { percent: this.looked });
    if (this.monitor === 'percent') return word('save-percent', { percent: this.percent });
    const words = Object.keys(this.named).filter(p => this.lit.includes(p)).map(p => this.named[p]);
    return words.length ? word('save-lit', { lights: words.join(', ') }) : word('save-dark');
  },
});
