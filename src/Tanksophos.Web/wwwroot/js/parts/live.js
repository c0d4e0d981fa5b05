// Shows the page anew when the log changed, whoever wrote it, unless somebody is in the middle of something.
export default () => ({
  stream: null,
  waits: false,
  init() {
    if (!window.EventSource) return;
    this.listen();
    window.addEventListener('pagehide', () => this.stream?.close());
    window.addEventListener('pageshow', event => event.persisted && this.listen());
    document.addEventListener('visibilitychange', () => this.show());
    document.addEventListener('focusout', () => setTimeout(() => this.show(), 300));
    document.addEventListener('hidden.bs.modal', () => this.show());
  },
  listen() {
    const { live, version } = this.$root.dataset;
    this.stream = new EventSource(live);
    this.stream.onmessage = message => {
      this.waits = message.data !== version;
      this.show();
    };
  },
  show() {
    if (this.waits && !this.busy()) window.location.reload();
  },
  busy() {
    return document.hidden || document.querySelector('.modal.show, .toast.show, [data-sending]') !== null || document.activeElement?.matches('input, textarea, select');
  },
});
