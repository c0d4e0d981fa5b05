// The quick log: which kind and which tank are in front.
export default () => ({
  kind: '', tank: '',
  init() {
    this.kind = this.$root.dataset.kind;
    this.tank = this.$root.dataset.tank;
  },
  not(kind) { return this.kind !== kind; },
  pick(el) { this.kind = el.dataset.logTo; },
  kindCurrent(el) { return el.dataset.logTo === this.kind ? 'true' : null; },
  pickTank(el) { this.tank = el.dataset.tankTab; },
  tankPressed(el) { return el.dataset.tankTab === this.tank ? 'true' : 'false'; },
  tankTab(el) { return el.dataset.tankTab === this.tank ? 'active' : ''; },
  notTank(el) { return el.dataset.reading !== this.tank; },
});
