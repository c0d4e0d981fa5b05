// What is typed about the rig is drawn by the page's own server a moment later: one drawing, wherever it is made.
export default () => ({
  asked: 0, wait: null,
  init() {
    if (this.$root.dataset.readonly === 'yes') for (const field of this.$root.elements) field.disabled = true;
  },
  typed() {
    clearTimeout(this.wait);
    this.wait = setTimeout(() => this.draw(), 250);
  },
  draw() {
    const mine = ++this.asked;
    fetch(this.$root.dataset.draws, { method: 'POST', body: new FormData(this.$root) }).then(answer => answer.status === 200 ? answer.text() : '').then(html => {
      if (!html || mine !== this.asked) return;
      for (const part of new DOMParser().parseFromString(html, 'text/html').querySelectorAll('[data-part]')) {
        document.querySelector(`[data-part="${CSS.escape(part.dataset.part)}"]`)?.replaceChildren(...part.childNodes);
      }
    }, () => { /* the drawing stays as it was */ });
  },
});
