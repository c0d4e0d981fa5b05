// The level that a learner says: dragged in the tank, or set with the sliders; kept while checks are asked for.
export default () => ({
  level: 50, spread: 15, top: 0, bottom: 1, held: false, word: '',
  init() {
    const d = this.$root.dataset;
    this.word = `practice-${d.word}`;
    this.top = Number(d.top);
    this.bottom = Number(d.bottom);
    const kept = JSON.parse(sessionStorage.getItem(this.word) ?? '{}');
    this.level = kept.level ?? 50;
    this.spread = kept.spread ?? 15;
    const answer = kept.answer && [...this.$root.querySelectorAll('[name=answer]')].find(a => a.value === kept.answer);
    if (answer) answer.checked = true;
    const lights = this.lights();
    if (kept.lights?.length === lights.length) lights.forEach((light, i) => { light.value = kept.lights[i]; });
  },
  save(more) {
    const kept = JSON.parse(sessionStorage.getItem(this.word) ?? '{}');
    sessionStorage.setItem(this.word, JSON.stringify({ ...kept, level: this.level, spread: this.spread, ...more }));
  },
  lights() { return [...this.$root.querySelectorAll('[name=light]')]; },
  mark() { this.save({ lights: this.lights().map(light => light.value) }); },
  keep(event) { this.save({ answer: event.target.value }); },
  slide(event) { this.level = Number(event.target.value); this.save(); },
  widen(event) { this.spread = Number(event.target.value); this.save(); },
  grab(event) { this.held = true; event.currentTarget.setPointerCapture?.(event.pointerId); this.point(event); },
  drag(event) { if (this.held) this.point(event); },
  drop() { if (this.held) this.save(); this.held = false; },
  point(event) {
    const svg = event.currentTarget;
    const at = new DOMPoint(event.clientX, event.clientY).matrixTransform(svg.getScreenCTM().inverse());
    this.level = Math.round(100 * Math.min(1, Math.max(0, (this.bottom - at.y) / (this.bottom - this.top))));
    event.preventDefault();
  },
  y(percent) { return this.bottom - Math.min(100, Math.max(0, percent)) / 100 * (this.bottom - this.top); },
  get lineY() { return this.y(this.level); },
  get bandTop() { return this.y(this.level + this.spread); },
  get bandHeight() { return this.y(this.level - this.spread) - this.y(this.level + this.spread); },
  get levelText() { return `${this.level} % (${Math.max(0, this.level - this.spread)}–${Math.min(100, this.level + this.spread)})`; },
});
