// The trip's board: each change is sent at once and the board comes back with the new plan. Without this script every button is a plain form.
import { Modal } from '../../lib/bootstrap/bootstrap.js';
import { openSheet } from './page.js';

const middle = block => {
  const body = block.querySelector('.body');
  return Number(body.getAttribute('x')) + Number(body.getAttribute('width')) / 2;
};

export default () => ({
  busy: false, failed: false, line: Promise.resolve(), pending: 0, drag: null,

  // What was open stays open, what had the focus keeps it, the ribbon stays where it was scrolled to.
  show(html) {
    const board = this.$root, at = document.activeElement;
    const open = [...board.querySelectorAll('details[open][id^=keep-]')].map(d => d.id);
    const focus = at?.closest('[data-fresh]') ? 'add-name' : at?.id;
    const left = board.querySelector('[data-keep-scroll]')?.scrollLeft ?? 0;
    board.querySelectorAll('.modal').forEach(m => Modal.getInstance(m)?.dispose());
    board.replaceChildren(...new DOMParser().parseFromString(html, 'text/html').body.childNodes);
    for (const id of open) { const d = document.getElementById(id); if (d) d.open = true; }
    if (focus) document.getElementById(focus)?.focus();
    const scroll = board.querySelector('[data-keep-scroll]');
    if (scroll) scroll.scrollLeft = left;
  },

  // One change after the other, each made on what the one before it left: only other people's changes are in its way.
  send(address, body) {
    const waits = this.pending > 0, board = this.$root;
    this.pending++;
    this.busy = true;
    this.failed = false;
    this.line = this.line.then(() => {
      const now = /[?&]seen=(\d+)/.exec(board.querySelector('form[action*="seen="]')?.getAttribute('action') ?? '');
      if (waits && now && !board.querySelector('[data-conflict]')) address = address.replace(/([?&]seen=)\d+/, `$1${now[1]}`);
      return fetch(address, { method: 'POST', body, headers: { 'X-Part': 'board' } });
    }).then(answer => {
      if (![200, 400, 409].includes(answer.status)) throw new Error();
      return answer.text();
    }).then(html => this.show(html)).catch(() => { this.failed = true; }).then(() => { this.pending--; this.busy = this.pending > 0; });
  },

  sent(event) {
    const form = event.target;
    if (form.method !== 'post' || !/[?&]trip=/.test(form.action) || /handler=Remove(&|$)|handler=(Restore|New|Feed|FeedOff|Import)/i.test(form.action)) return;
    event.preventDefault();
    event.stopPropagation();
    const body = new FormData(form, event.submitter), sheet = form.closest('.modal');
    if (sheet) Modal.getInstance(sheet)?.hide();
    this.send(form.action, body);
  },

  // A place that was entered before has the hookup that it had.
  known(event) {
    const place = [...this.$root.querySelectorAll('#places option')].find(o => o.value.toLowerCase() === event.target.value.trim().toLowerCase());
    if (place) event.target.form.elements.hookup.value = place.dataset.hookup;
  },

  pressed(event) {
    const link = event.target.closest('[data-compare]');
    if (link) {
      event.preventDefault();
      const place = document.getElementById(link.dataset.compare);
      place.setAttribute('aria-busy', 'true');
      fetch(link.href).then(answer => answer.ok ? answer.text() : '').then(html => {
        place.replaceChildren(...new DOMParser().parseFromString(html, 'text/html').body.childNodes);
        place.removeAttribute('aria-busy');
      }, () => { this.failed = true; });
      return;
    }
    const pin = event.target.closest('a.pin'), item = pin && document.getElementById(pin.getAttribute('href').slice(1));
    if (!item) return;
    item.querySelector('details').open = true;
    item.scrollIntoView({ block: 'center' });
    event.preventDefault();
  },

  // Stops on the ribbon: dragged into another order by their body, stretched by their edge.
  grab(event) {
    const block = event.target.closest('.stop-block[data-stop]');
    if (!block || event.button !== 0) return;
    const stretch = event.target.closest('.stretch, .grip') !== null;
    this.drag = { block, x: event.clientX, stretch, moved: 0, svg: block.ownerSVGElement, id: event.pointerId, width: Number(block.querySelector('.body').getAttribute('width')) };
    if (event.pointerType === 'mouse' || stretch) event.preventDefault();
  },
  move(event) {
    const d = this.drag;
    if (!d || event.pointerId !== d.id) return;
    d.moved = (event.clientX - d.x) * d.svg.viewBox.baseVal.width / d.svg.getBoundingClientRect().width;
    if (Math.abs(d.moved) < 6) return;
    d.block.classList.add('is-dragged');
    if (d.stretch) d.block.querySelector('.body').setAttribute('width', Math.max(12, d.width + d.moved));
    else d.block.setAttribute('transform', `translate(${d.moved.toFixed(1)} 0)`);
  },
  drop(event) {
    const d = this.drag;
    if (!d || event.pointerId !== d.id) return;
    this.drag = null;
    d.block.classList.remove('is-dragged');
    const stop = d.block.dataset.stop;
    if (Math.abs(d.moved) < 6) { openSheet(`sheet-stop-${stop}`); return; }
    if (d.stretch) {
      this.post('Stretch', { stop, nights: Math.max(0, Number(d.block.dataset.nights) + Math.round(d.moved / Number(d.svg.dataset.day))) });
      return;
    }
    const at = middle(d.block) + d.moved, from = Number(d.block.dataset.index);
    const others = [...d.svg.querySelectorAll('.stop-block[data-stop]')].filter(b => b !== d.block), places = others.map(b => Number(b.dataset.index));
    // Those that are over keep their places.
    const to = Math.max(Math.min(from, ...places), 0, ...others.filter(b => middle(b) < at).map(b => Number(b.dataset.index) + (Number(b.dataset.index) > from ? 0 : 1)));
    d.block.removeAttribute('transform');
    if (to !== from) this.post('Move', { stop, to });
  },
  letGo() {
    this.drag?.block.removeAttribute('transform');
    this.drag?.block.classList.remove('is-dragged');
    this.drag = null;
  },
  post(handler, fields) {
    const form = this.$root.querySelector('form[action*="trip="]'), body = new FormData();
    for (const name of ['__RequestVerificationToken', '__rig']) { const field = form.querySelector(`[name="${name}"]`); if (field) body.append(name, field.value); }
    for (const name in fields) body.append(name, fields[name]);
    this.send(form.getAttribute('action').replace(/handler=[a-z]+/i, `handler=${handler}`), body);
  },
});
