// A rinse, a sensor and a trap: the numbers come with the page, here they are drawn.
import word from './words.js';

const number = value => value.toFixed(1);
const words = { clear: 'end-clear', tinted: 'end-tinted', dark: 'end-dark' };

export default () => ({
  played: null, rinses: 0, hangs: 'clean', level: 10, hours: 1, days: 0,
  init() { this.played = JSON.parse(this.$root.dataset.played); },
  rinse(event) { this.rinses = Number(event.target.value); },
  hang(event) { this.hangs = event.target.value; },
  fill(event) { this.level = Number(event.target.value); },
  wait(event) { this.hours = Number(event.target.value); },
  dry(event) { this.days = Number(event.target.value); },

  get state() { return this.played.rinses[this.rinses]; },
  get rinsing() { return this.rinses > 0; },
  get firstDirt() { return this.state.drain[0].dirt; },
  get middleDirt() { return this.state.drain[1].dirt; },
  get lastDirt() { return this.state.drain[2].dirt; },
  get cornersPath() {
    const size = 110 * Math.sqrt(this.state.corners), high = 70 * Math.sqrt(this.state.corners);
    return `M20 ${number(141 - high)}Q34 136 ${number(20 + size)} 150H20ZM420 ${number(150 - high)}Q406 146 ${number(420 - size)} 152H420Z`;
  },
  get rinseText() {
    const [, middle, last] = this.state.drain, end = word(words[last.looks]);
    if (this.rinses === 0) return word('rinse-dump');
    if (last.looks === 'clear') return word('rinse-done');
    return word(middle.looks === 'clear' ? 'rinse-fooled' : 'rinse-again', { end });
  },

  get reached() { return this.level / 100 >= this.played.mark; },
  get lit() { return this.played.lit[this.hangs][this.reached ? 2 : this.hours < this.played.film ? 0 : 1]; },
  get lampClass() { return this.lit ? 'is-lit' : ''; },
  get wireClass() { return this.lit ? 'is-live' : ''; },
  get levelY() { return number(220 - 2 * this.level); },
  get levelH() { return number(2 * this.level); },
  get levelText() { return `${this.level} %`; },
  get isFilm() { return this.hangs === 'film' && this.hours < this.played.film; },
  get isPaper() { return this.hangs === 'paper'; },
  get isWire() { return this.hangs === 'wire'; },
  get sensorText() {
    if (this.hangs === 'wire') return word(this.reached ? 'sensor-wire' : 'sensor-wire-low');
    if (this.reached) return word(this.hangs === 'paper' ? 'sensor-hidden' : 'sensor-right-on');
    if (!this.lit) return word('sensor-right-off');
    return word(this.hangs === 'paper' ? 'sensor-paper' : 'sensor-film');
  },

  get left() { return this.played.trap[this.days]; },
  get passes() { return this.left <= 0; },
  get sealPath() {
    // Water stands alike in both legs of the bend, from its brim down to the crown of the bend, where air gets by.
    if (this.left <= 0) return 'M104 196C120 210 180 210 196 196Z';
    const y = number(150 - 26 * this.left);
    return `M80 ${y}H132V150C132 160 168 160 168 150V${y}H220V150C220 226 80 226 80 150Z`;
  },
  get trapText() {
    const day = this.days;
    if (this.left <= 0) return word('trap-dry', { day });
    if (day >= this.played.trapDue) return word('trap-due', { day });
    return word(day === 0 ? 'trap-full' : 'trap-low', { day, percent: `${Math.round(100 * this.left)} %` });
  },
});
