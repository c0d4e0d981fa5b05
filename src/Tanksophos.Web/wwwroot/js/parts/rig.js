// The rig, one part of it at a time. What is typed is drawn by the page's own server a moment later: one drawing, wherever it is made. Sensors are dragged
// along the wall of the drawing, or moved by the arrow keys; their fields follow.
import redraw from './redraw.js';

export default () => ({
  part: 'tank-0', drawing: null, held: null,
  init() {
    this.drawing = redraw(this.$root);
    if (this.$root.dataset.readonly === 'yes') for (const field of this.$root.elements) if (!field.dataset.tab) field.disabled = true;
    this.part = window.location.hash.slice(1) || 'tank-0';
    if (!this.$root.querySelector(`[data-tab-of="${CSS.escape(this.part)}"]`)) this.part = 'tank-0';
  },
  show(el) {
    this.part = el.dataset.tab;
    window.history.replaceState(null, '', `#${this.part}`);
  },
  tab(el) { return el.dataset.tab === this.part ? 'active' : ''; },
  pressed(el) { return el.dataset.tab === this.part ? 'true' : 'false'; },
  away(el) { return el.dataset.tabOf !== this.part; },

  typed() { this.drawing.soon(() => this.held); },

  field(stud) { return this.$root.elements[stud.dataset.field]; },
  grab(event) {
    const stud = event.currentTarget, svg = stud.ownerSVGElement;
    if (this.$root.dataset.readonly === 'yes' || event.button !== 0) return;
    event.preventDefault();
    stud.focus();
    this.held = { stud, svg, id: event.pointerId };
  },
  move(event) {
    const h = this.held;
    if (!h || event.pointerId !== h.id) return;
    const y = new DOMPoint(event.clientX, event.clientY).matrixTransform(h.svg.getScreenCTM().inverse()).y;
    const top = Number(h.svg.dataset.top), bottom = Number(h.svg.dataset.bottom);
    const percent = Math.round(100 * Math.min(1, Math.max(0, (bottom - y) / (bottom - top))));
    this.field(h.stud).value = percent;
    h.stud.setAttribute('aria-valuenow', percent);
    h.stud.setAttribute('transform', `translate(0 ${(bottom - percent / 100 * (bottom - top) - Number(h.stud.dataset.y)).toFixed(1)})`);
  },
  drop(event) {
    if (!this.held || event.pointerId !== this.held.id) return;
    this.held = null;
    this.drawing.now();
  },
  nudge(event) {
    const step = { ArrowUp: 1, ArrowRight: 1, ArrowDown: -1, ArrowLeft: -1, PageUp: 10, PageDown: -10 }[event.key];
    if (!step || this.$root.dataset.readonly === 'yes') return;
    event.preventDefault();
    const field = this.field(event.currentTarget);
    field.value = Math.min(100, Math.max(0, Math.round(Number(field.value.replace(',', '.')) || 0) + step));
    this.typed();
  },
});
