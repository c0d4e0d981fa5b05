// While older entries are worked out, the page says how far it is, and shows the result when nobody is in the middle of something.
export default () => ({
  share: 0,
  init() {
    this.share = Number(this.$root.dataset.share);
    setTimeout(() => this.ask(), 1500);
  },
  ask() {
    fetch(this.$root.dataset.working).then(answer => answer.json()).then(said => {
      if (said.share === null) {
        if (!document.querySelector('.modal.show')) window.location.reload();
        return;
      }
      this.share = said.share;
      setTimeout(() => this.ask(), 1500);
    }, () => setTimeout(() => this.ask(), 5000));
  },
});
