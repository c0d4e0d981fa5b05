// What every page can do: keys, light or dark, one press one entry, files that are too large, printing.
import word from './words.js';
import { Modal } from '../../lib/bootstrap/bootstrap.js';
import { load } from './loader.js';
import { home } from './home.js';
import * as outbox from './outbox.js';

const rooms = { t: '/', u: '/run', p: '/trip', f: '/find', s: '/sensors', e: '/treatments', c: '/care', y: '/practice', l: '/logbook', g: '/rig', h: '/rules', i: '/import', a: '/account' };
const logs = { n: 'reading', r: 'reading', d: 'dump', w: 'water' };

export function openSheet(id) {
  const sheet = document.getElementById(id);
  if (sheet) Modal.getOrCreateInstance(sheet).show();
  return sheet !== null;
}

export default () => ({
  dark: document.documentElement.dataset.bsTheme === 'dark', waiting: 0, refused: '',
  init() {
    const now = document.querySelector('[data-open-now=yes]');
    if (now) openSheet(now.id);
    if (document.querySelector('main').dataset.page === '/SignIn/Index') {
      outbox.forgetSheet();
      if (window.caches) caches.delete('pages-1');
    }
    if (!document.getElementById('sheet-log')) return;
    this.count();
    if (navigator.onLine) this.sendOutbox();
    // The sheet is fetched once ahead, so that something can be logged where there is no connection.
    if (!outbox.rememberedSheet()) setTimeout(() => fetch(`${home}/log`, { headers: { 'X-Part': 'log' } }).then(a => a.ok && !a.redirected ? a.text() : '').then(html => { if (html) outbox.rememberSheet(html); }, () => { }), 3000);
  },
  count() {
    this.waiting = outbox.count();
    this.refused = outbox.problem();
  },
  // A page that the device kept, from when there was a connection.
  get keptAt() { return document.body.dataset.keptAt; },
  get keptWhen() { return this.keptAt ? new Date(Number(this.keptAt)).toLocaleString([], { weekday: 'short', hour: 'numeric', minute: '2-digit' }) : ''; },
  get waitingWords() { return this.waiting === 1 ? word('waiting-one') : word('waiting', { count: this.waiting }); },
  async sendOutbox() {
    if (outbox.count() === 0) return;
    try {
      if (await outbox.send() && !document.querySelector('.modal.show')) window.location.reload();
    } catch { /* still no connection */ }
    this.count();
  },
  discardRefused() {
    outbox.discard();
    this.count();
  },
  key(event) {
    if (event.ctrlKey || event.metaKey || event.altKey || event.target.matches('input:not([type=range]), textarea, select')) return;
    if (document.querySelector('.modal.show')) return;
    if (event.key in rooms) { window.location.assign(home + rooms[event.key]); return; }
    if (event.key === '?') openSheet('keys');
    if (!(event.key in logs) || !document.getElementById('sheet-log')) return;
    event.preventDefault();
    this.log(`${home}/log?kind=${logs[event.key]}`);
  },
  // The quick log comes up over the page; if it cannot be had, its own page is gone to.
  async log(address) {
    const where = new URL(address, window.location.href), body = document.querySelector('[data-log-body]');
    where.searchParams.set('back', window.location.pathname + window.location.search);
    try {
      let html;
      try {
        const answer = await fetch(where, { headers: { 'X-Part': 'log' } });
        if (answer.status !== 200 || answer.redirected) throw new Error();
        html = await answer.text();
        outbox.rememberSheet(html);
      } catch (e) {
        html = navigator.onLine ? null : outbox.rememberedSheet();
        if (!html) throw e;
      }
      const sheet = new DOMParser().parseFromString(html, 'text/html').body, root = sheet.querySelector('.log-sheet');
      for (const name of ['kind', 'tank']) if (where.searchParams.get(name)) root.dataset[name] = where.searchParams.get(name);
      await load(sheet);
      body.replaceChildren(...sheet.childNodes);
      openSheet('sheet-log');
    } catch { window.location.assign(where); }
  },
  switchTheme() {
    this.dark = !this.dark;
    document.documentElement.dataset.bsTheme = this.dark ? 'dark' : 'light';
    document.cookie = `theme=${this.dark ? 'night' : 'day'};path=/;max-age=31536000;samesite=lax`;
  },
  // The form that was sent is locked while the page is on its way; a download leaves the page where it is.
  once(event) {
    if (event.defaultPrevented || event.submitter?.matches('[data-download]')) return;
    if (!navigator.onLine && outbox.takes(event.target)) {
      event.preventDefault();
      outbox.keep(event.target, event.submitter);
      this.count();
      document.querySelector('.modal.show .btn-close')?.click();
      return;
    }
    if (event.target.dataset.sent) event.preventDefault();
    event.target.dataset.sent = 'yes';
  },
  unlock() { document.querySelectorAll('form[data-sent]').forEach(f => delete f.dataset.sent); },
  changed(event) {
    const field = event.target;
    if (field.matches('[data-submit-on-change]')) field.form.requestSubmit();
    if (!field.matches('[data-most]')) return;
    const file = field.files[0];
    field.setCustomValidity(file && file.size > Number(field.dataset.most) ? field.dataset.mostWords : '');
    field.reportValidity();
  },
  pressed(event) {
    const log = event.target.closest('a[data-log]');
    if (log && document.getElementById('sheet-log') && !event.ctrlKey && !event.metaKey) {
      event.preventDefault();
      this.log(log.href);
    }
    if (event.target.matches('[data-select-all]')) event.target.select();
    if (event.target.closest('[data-print]')) window.print();
  },
});
