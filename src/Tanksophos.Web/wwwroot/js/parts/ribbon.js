// A ribbon that is wider than its place starts where "now" is, and says by its edges that there is more.
export default () => ({
  before: false, after: false,
  init() {
    const box = this.$root;
    box.scrollLeft = box.scrollWidth * Number(box.dataset.nowAt) - box.clientWidth * 0.6;
    this.look();
  },
  look() {
    const box = this.$root;
    this.before = box.scrollLeft > 4;
    this.after = box.scrollLeft < box.scrollWidth - box.clientWidth - 4;
  },
  get edges() { return { 'has-before': this.before, 'has-after': this.after }; },
});
