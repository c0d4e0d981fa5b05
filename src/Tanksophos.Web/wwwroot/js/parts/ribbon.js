// A ribbon that is wider than its place starts where "now" is, says by its edges that there is more, and comes to rest at "now" when it is let go near it.
const lead = 0.6, near = 48;

export default () => ({
  before: false, after: false,
  init() {
    const box = this.$root;
    // A board that was drawn anew keeps the place where it was looked at.
    box.scrollLeft = box.dataset.at ? Number(box.dataset.at) : this.now();
    this.look();
  },
  now() {
    const box = this.$root;
    return Math.min(box.scrollWidth - box.clientWidth, Math.max(0, box.scrollWidth * Number(box.dataset.nowAt) - box.clientWidth * lead));
  },
  look() {
    const box = this.$root;
    this.before = box.scrollLeft > 4;
    this.after = box.scrollLeft < box.scrollWidth - box.clientWidth - 4;
  },
  snap() {
    const away = Math.abs(this.$root.scrollLeft - this.now());
    if (away > 1 && away < near) this.$root.scrollTo({ left: this.now(), behavior: window.matchMedia('(prefers-reduced-motion: reduce)').matches ? 'auto' : 'smooth' });
  },
  get edges() { return { 'has-before': this.before, 'has-after': this.after }; },
});
