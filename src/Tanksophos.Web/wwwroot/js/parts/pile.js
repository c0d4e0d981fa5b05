// The pile under the toilet: numbers come from the server for each set of habits; here they are drawn and scrubbed through.
import word from './words.js';

const still = () => matchMedia('(prefers-reduced-motion: reduce)').matches;
const number = (value, digits) => value.toFixed(digits);

export default () => ({
  played: null, hour: 250, habits: {}, usualHabits: {}, unit: 'gal', perUnit: 1, url: '', asked: null, running: null,
  init() {
    const d = this.$root.dataset;
    this.unit = d.unit;
    this.perUnit = Number(d.perUnit);
    this.url = d.url;
    this.played = JSON.parse(d.played);
    this.habits = Object.fromEntries([...this.$root.querySelectorAll('.pile-sliders input')].map(i => [i.name, Number(i.value)]));
    this.usualHabits = { ...this.habits };
  },
  destroy() { cancelAnimationFrame(this.running); },
  change(event) {
    this.habits = { ...this.habits, [event.target.name]: Number(event.target.value) };
    this.ask();
  },
  usual() {
    this.habits = { ...this.usualHabits };
    for (const input of this.$root.querySelectorAll('.pile-sliders input')) input.value = this.habits[input.name];
    this.ask();
  },
  ask() {
    clearTimeout(this.asked);
    this.asked = setTimeout(async () => {
      const query = new URLSearchParams(this.habits);
      try {
        const answer = await fetch(`${this.url}${this.url.includes('?') ? '&' : '?'}${query}`, { headers: { accept: 'application/json' } });
        if (answer.ok) this.played = await answer.json();
      } catch { /* without a connection the last picture stays */ }
    }, 60);
  },
  scrub(event) { this.stop(); this.hour = Number(event.target.value); },
  stop() { cancelAnimationFrame(this.running); this.running = null; },
  play() {
    this.stop();
    if (still()) { this.hour = 336; return; }
    const start = performance.now();
    const step = now => {
      this.hour = Math.min(336, Math.round((now - start) / 9000 * 336));
      if (this.hour < 336) this.running = requestAnimationFrame(step);
    };
    this.running = requestAnimationFrame(step);
  },
  at(side, what) { return this.played[side][what][this.hour]; },
  volume(litres) { return `${number(litres / this.perUnit, litres / this.perUnit < 10 ? 1 : 0)} ${this.unit}`; },
  top(side) { const share = Math.min(1, this.at(side, 'liquid') / this.played.capacity); return 186 - share * 116; },
  heap(side, share) {
    const height = this.at(side, 'height') * 106 * share, half = Math.min(200, this.at(side, 'radius') * 420 * share), floor = 179;
    if (height < 0.5) return '';
    const left = 136 - half, right = 136 + half;
    return `M${number(left, 1)} ${floor + 8}V${floor - 2}Q${number(136 - half * 0.5, 1)} ${number(floor - height * 0.55, 1)} 136 ${number(floor - height, 1)}`
      + `Q${number(136 + half * 0.5, 1)} ${number(floor - height * 0.55, 1)} ${number(right, 1)} ${floor + 1}V${floor + 8}Z`;
  },
  get closedY() { return this.top('closed'); },
  get closedH() { return 190 - this.closedY; },
  get openY() { return 190; },
  get openH() { return 0; },
  get closedHeap() { return this.heap('closed', 1); },
  get openHeap() { return this.heap('open', 1); },
  get closedCore() { return this.heap('closed', Math.cbrt(this.at('closed', 'hard'))); },
  get openCore() { return this.heap('open', Math.cbrt(this.at('open', 'hard'))); },
  state(side) { const hard = this.at(side, 'hard'); return word(hard > 0.4 ? 'pile-hard' : hard > 0.1 ? 'pile-firm' : 'pile-soft'); },
  pile(side) { const litres = this.at(side, 'pile'); return litres < 0.2 ? word('pile-none') : this.volume(litres); },
  flush(side) { return word(this.at(side, 'height') >= this.played.backs ? 'pile-backs' : 'pile-down'); },
  get closedText() {
    const litres = this.at('closed', 'liquid');
    return `${word('pile-closed', { volume: this.volume(litres), percent: Math.round(100 * litres / this.played.capacity), pile: this.pile('closed'),
      state: this.state('closed') })} ${this.flush('closed')}`;
  },
  get openText() {
    return `${word('pile-open', { pile: this.pile('open'), height: `${Math.round(100 * this.at('open', 'height'))} %`, state: this.state('open') })} ${this.flush('open')}`;
  },
  lane(values, ground, scale) {
    return `M0 ${ground}${values.map((v, i) => `L${number(i / 336 * 600, 1)} ${number(Math.max(ground - 44, ground - v * scale), 1)}`).join('')}L600 ${ground}Z`;
  },
  get closedLane() { return this.lane(this.played.closed.liquid, 46, 44 / this.played.capacity); },
  get closedPileLane() { return this.lane(this.played.closed.pile, 46, 440 / this.played.capacity); },
  get openPileLane() { return this.lane(this.played.open.pile, 95, 440 / this.played.capacity); },
  get nowLine() { const x = number(this.hour / 336 * 600, 1); return `M${x} 0V96`; },
  get dayText() { return word('pile-day', { day: number(this.hour / 24, 1) }); },
  get flushText() { return `${number(this.habits.flush / this.perUnit, 1)} ${this.unit}`; },
  get starterText() { return `${number(this.habits.starter / this.perUnit, 1)} ${this.unit}`; },
  get dumpText() { return `${Math.round(100 * this.habits.dump)} %`; },
  get people() { return this.habits.people; },
  get paperBreaks() { return this.habits.paper < 0.4; },
  get paperSlow() { return this.habits.paper >= 0.4 && this.habits.paper < 0.75; },
  get paperWhole() { return this.habits.paper >= 0.75; },
});
