// A large file on its way: how far it is, and what became of it. Without this script the form is sent as it is.
import word from './words.js';

export default () => ({
  under: false, share: 0, problem: '', unreadable: false,
  init() { this.unreadable = this.$root.querySelector('[data-unreadable]').dataset.unreadable === 'yes'; },
  get said() { return this.share < 1 ? word('sent', { percent: Math.round(this.share * 100) }) : word('checking'); },
  no(text) {
    this.problem = text;
    this.under = false;
    delete this.$root.dataset.sent;
  },
  send(event) {
    event.preventDefault();
    const request = new XMLHttpRequest();
    request.upload.onprogress = sent => { if (sent.lengthComputable) this.share = sent.loaded / sent.total; };
    request.onload = () => {
      let said = {};
      try { said = JSON.parse(request.responseText); } catch { /* not ours */ }
      if (said.go) { window.location.assign(said.go); return; }
      if (said.unreadable) this.unreadable = true;
      this.no(said.problem || word('refused'));
    };
    request.onerror = () => this.no(word('broke'));
    this.problem = '';
    this.under = true;
    this.share = 0;
    request.open('POST', this.$root.action);
    request.setRequestHeader('X-Part', 'restore');
    request.send(new FormData(this.$root));
  },
});
