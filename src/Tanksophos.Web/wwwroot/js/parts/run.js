// The page of a run. Each press counts at once here, is kept in the page's own store, and is sent with its own key, so that it counts once however often it
// travels. Clocks are computed from the moments of the presses. Another device's presses arrive by the event stream.
import word from './words.js';
import { runState } from './run-state.js';
import { bell } from './bell.js';

const clockOf = seconds => {
  const whole = Math.max(0, Math.floor(seconds));
  return `${Math.floor(whole / 60)}:${String(whole % 60).padStart(2, '0')}`;
};

// The server's time. A device's clock may be wrong or be changed; it only counts on from the last answer, by the larger of two clocks, so that a phone that
// slept or was set back never shows less than has gone by.
function serverTime() {
  let server = 0, mono = 0, wall = 0;
  return {
    sync(now) { server = now; mono = performance.now(); wall = Date.now(); },
    now: () => server + Math.max(performance.now() - mono, Math.min(Date.now() - wall, 86400000), 0),
  };
}

export default () => {
  const time = serverTime(), alarm = bell();
  let script, rules, data, store, state, taps = [], pending = [], version = 0, sending = false, quiet;

  // ---- what waits here ----
  function load() {
    try { pending = JSON.parse(localStorage.getItem(store) || '[]'); } catch { pending = []; }
    if (!Array.isArray(pending)) pending = [];
  }
  function keep() {
    try {
      if (pending.length) localStorage.setItem(store, JSON.stringify(pending));
      else localStorage.removeItem(store);
    } catch { /* a browser without a store: then it lasts as long as the page */ }
  }
  function fold() {
    state = runState(script, rules, taps);
    pending.forEach(t => state.apply(t));
  }
  // What the server had of the run, for a page that is looked at again without a connection: the page that the device kept is older than its presses.
  const whole = () => `${store}-whole`;
  function keepWhole(answer) {
    try {
      if (answer.ended) localStorage.removeItem(whole());
      else localStorage.setItem(whole(), JSON.stringify({ taps: answer.taps, version: answer.version, now: answer.now, at: Date.now() }));
    } catch { /* a browser without a store: then the page's own state has to do */ }
  }
  function asKept(start, keptAt) {
    let there = null;
    try { there = JSON.parse(localStorage.getItem(whole())); } catch { /* nothing was kept */ }
    const last = there && there.taps.length >= start.taps.length ? there : { ...start, at: keptAt };
    return { ...start, taps: last.taps, version: last.version, now: last.now + Math.max(0, Date.now() - last.at) };
  }
  const here = () => state.record(state.step().id, state.round);

  function volume(litres) {
    const v = litres / Number(data.litres);
    return `${data.symbol === 'gal' && v < 2.95 ? Math.round(v * 10) / 10 : Math.round(v)} ${data.symbol}`;
  }

  // As the server says it: the level that must not be passed less what may be there, rounded up.
  const atMost = limit => `${(Math.round(limit.upToL / Number(data.litres) * 10) - Math.ceil(limit.upperLevelL / Number(data.litres) * 10 - 1e-6)) / 10} ${data.symbol}`;

  // What a condition at a button or a line means.
  function holds(word, step, record) {
    const filled = state.filledSeconds(time.now()) > 0 || (!!record && record.litres > 0);
    const begun = !!record && record.started !== null, answered = !!record && record.answer !== null, stopped = !!record && record.stopped !== null;
    switch (word) {
      case 'open': return !state.isShut(step.tank);
      case 'closed': return state.isShut(step.tank);
      case 'wet': return state.waterOn;
      case 'dry': return !state.waterOn;
      case 'still-dry': return !state.waterOn || !state.isShut(step.tank);
      case 'begun': return begun;
      case 'fresh': return !begun;
      case 'filled': return filled;
      case 'unfilled': return !filled;
      case 'answered': return answered;
      case 'unanswered': return !answered;
      case 'failed': return answered && record.answer === 'fail';
      case 'unfailed': return !(answered && record.answer === 'fail');
      case 'dripping': return answered && record.answer === 'drips';
      case 'undripping': return !(answered && record.answer === 'drips');
      case 'flooding': return begun && !stopped;
      case 'flooded': return stopped && state.endClosed;
      case 'still': return !state.endClosed && !(begun && !stopped);
      case 'emptied': return state.emptied(step.tank);
      case 'unemptied': return !state.emptied(step.tank);
      default: return true;
    }
  }

  // The level follows from the valves and the water, by the times of the presses.
  function levels(t) {
    const level = {}, open = {}, before = {}, stuck = {}, flow = Number(data.flow) || 6.8, tank = {};
    let water = false, into = null, at = null, end = false;
    for (const k of script.tanks) { tank[k.id] = k; level[k.id] = k.levelL; if (k.open) open[k.id] = true; }
    function advance(to) {
      const s = (to - at) / 1000;
      if (s <= 0) return;
      for (const k of script.tanks) {
        if (end && open[k.id]) {
          if (water && into === k.id) level[k.id] = Math.min(k.capacityL, level[k.id] + flow * s / 60);
        } else if (open[k.id] && !stuck[k.id]) {
          const step = script.steps.find(x => x.id === `drain-${k.id}`);
          const full = step?.usualSeconds ? step.usualSeconds / Math.sqrt(Math.max(k.levelL, 0.05 * k.capacityL) / k.capacityL) : 150;
          const root = Math.max(0, Math.sqrt(level[k.id] / k.capacityL) - s / full);
          level[k.id] = Math.max(Math.min(level[k.id], 0.01 * k.capacityL), k.capacityL * root * root);
        } else if (water && into === k.id) level[k.id] = Math.min(k.capacityL, level[k.id] + flow * s / 60);
      }
    }
    for (const c of state.changes) {
      if (at !== null) advance(c.at);
      at = c.at;
      if (c.add) level[c.tank] = Math.min(tank[c.tank].capacityL, level[c.tank] + c.add);
      if (c.empty) level[c.tank] = Math.min(level[c.tank], 0.01 * tank[c.tank].capacityL);
      if (c.end !== undefined) end = c.end;
      if (c.water !== undefined) { water = c.water; into = c.into; }
      // What did not drain is as full as it was.
      if (c.kept) { level[c.tank] = before[c.tank] ?? level[c.tank]; stuck[c.tank] = true; }
      if (c.open !== undefined) {
        if (c.open) { open[c.tank] = true; before[c.tank] = level[c.tank]; } else delete open[c.tank];
        stuck[c.tank] = false;
      }
    }
    if (at !== null) advance(t);
    return level;
  }

  return {
    turn: 0, now: 0, ended: false, cutOff: false, waiting: 0, notice: '', end: null, debris: null, step: '', levels: {}, alarmFor: null, alarmClock: '0:00',
    clock: { text: '0:00', words: '', width: 0, aim: -5, warn: -5, look: '' },

    init() {
      data = this.$root.dataset;
      script = JSON.parse(document.getElementById('run-script').textContent);
      rules = JSON.parse(document.getElementById('run-rules').textContent);
      store = `run-${data.word}`;
      load();
      const start = JSON.parse(document.getElementById('run-start').textContent), { keptAt } = document.body.dataset;
      this.take(keptAt ? asKept(start, Number(keptAt)) : start);
      this.render();
      if (this.ended) return;
      if (!keptAt) navigator.serviceWorker?.ready.then(worker => worker.active.postMessage({ keep: window.location.pathname }));
      this.send();
      this.listen();
      setInterval(() => this.tick(), 200);
      this.stayAwake();
    },
    take(answer) {
      time.sync(answer.now);
      const seen = new Set(answer.taps.map(t => t.key));
      taps = answer.taps;
      version = answer.version;
      pending = pending.filter(t => !seen.has(t.key));
      keep();
      keepWhole(answer);
      this.ended = answer.ended;
      fold();
    },

    // ---- sending ----
    send() {
      if (sending || pending.length === 0) return;
      sending = true;
      const mine = pending.slice(0, 400);
      fetch(data.post, { method: 'POST', headers: { 'Content-Type': 'application/json', RequestVerificationToken: data.token }, body: JSON.stringify({ taps: mine }) }).then(async answer => {
        sending = false;
        if (answer.redirected) { this.say(data.signIn); return; }
        if (answer.status === 400) {
          let said = null;
          try { said = JSON.parse(await answer.text()); } catch { /* the page's token is too old */ }
          if (!said) { this.again(); return; }
          // The one that cannot be taken goes, the others are sent again; what the run as a whole does not take waits here.
          const one = typeof said.index === 'number';
          if (one) pending = pending.filter(t => t.key !== mine[said.index].key);
          keep();
          fold();
          this.render();
          this.say(said.problem);
          if (one) this.send();
          return;
        }
        if (answer.status !== 200) throw new Error();
        const said = await answer.json();
        this.online(true);
        const lost = mine.filter(t => said.fates?.[t.key] === 'stale' && !['back', 'jump', 'skip'].includes(t.press));
        this.take(said);
        this.render();
        if (lost.length) {
          this.say((lost.some(t => t.late) ? data.sayLate : data.sayAhead).replace('{who}', said.ahead || data.other).replace('{taps}', lost.map(t => t.label).join(', ')));
        }
        if (said.ended) { this.leave(); return; }
        this.send();
      }).catch(() => {
        sending = false;
        this.online(false);
        setTimeout(() => this.send(), 2000);
      });
    },
    // A fresh page has a fresh token; what waits is kept in the page's store meanwhile. Once a minute at most.
    again() {
      if (Date.now() - Number(sessionStorage.getItem(`${store}-again`) || 0) < 60000) { this.online(false); return; }
      sessionStorage.setItem(`${store}-again`, Date.now());
      window.location.reload();
    },
    leave() { window.location.assign(data.after); },
    online(yes) {
      this.cutOff = !yes;
      this.waiting = pending.length;
    },
    tap(press, said, label) {
      const step = state.step();
      const t = { key: crypto.getRandomValues(new Uint32Array(4)).join('-'), at: Math.round(time.now()), step: step.id, round: state.round, press, said: said || {}, label, late: this.cutOff };
      const fate = state.apply(t);
      if (fate === 'blocked') { this.say(data.blocked); fold(); return; }
      if (fate === 'stale') { fold(); this.render(); return; }
      pending.push(t);
      keep();
      this.render();
      this.send();
    },
    say(text) {
      this.notice = text;
      clearTimeout(quiet);
      quiet = setTimeout(() => { this.notice = ''; }, 9000);
    },

    // ---- showing ----
    render() {
      const before = this.step, step = state.step(), said = here()?.said ?? {};
      this.step = step.id;
      this.turn++;
      if (before !== step.id) {
        this.end = said.end ?? null;
        this.debris = said.debris ?? null;
        if (before !== '') {
          const inside = document.activeElement === document.body || this.$root.contains(document.activeElement);
          this.$nextTick(() => {
            if (inside) this.section()?.querySelector('h1')?.focus({ preventScroll: true });
            window.scrollTo(0, 0);
          });
        }
      } else {
        this.end ??= said.end ?? null;
        this.debris ??= said.debris ?? null;
      }
      this.tick();
    },
    section() { return this.$root.querySelector(`[data-step="${CSS.escape(this.step)}"]`); },
    elsewhere(el) { return el.dataset.step !== this.step; },
    away(el) {
      const section = el.closest('[data-step]');
      if (this.turn === 0 || this.now === 0 || section && section.dataset.step !== this.step) return el.hidden;
      return !el.dataset.when.split(' ').every(w => holds(w, state.step(), here()));
    },
    get count() { return this.turn ? word('step', { step: state.position + 1, steps: script.steps.length }) : ''; },
    seg(el) {
      const i = Number(el.dataset.seg), at = this.turn ? state.position : 0;
      return { 'is-past': i < at, 'is-now': i === at };
    },
    item(el) {
      if (!this.turn) return '';
      const i = script.steps.findIndex(s => s.id === el.dataset.item), s = script.steps[i];
      let done = false;
      for (let n = 0; n <= Math.max(1, s.loop ? state.roundsOf(s.loop) : 0); n++) done ||= !!state.record(s.id, n) && state.record(s.id, n).answer !== null;
      return `${done ? 'is-done' : i < state.position ? 'is-skipped' : ''} ${i === state.position ? 'is-now' : ''}`;
    },
    current(el) { return el.dataset.item === this.step ? 'step' : null; },
    isOn(tile) {
      if (!this.turn) return false;
      if ('water' in tile.dataset) return state.waterOn;
      return 'end' in tile.dataset ? !state.endClosed : tile.dataset.valve.split(' ').some(t => state.isOpen(t));
    },
    tile(el) { return this.isOn(el) ? 'is-on' : ''; },
    tileWords(el) {
      const tile = el.closest('.run-tile');
      return this.isOn(tile) ? tile.dataset.on : tile.dataset.off;
    },
    get rinse() { return this.turn ? state.rinseOf(state.step()) : null; },
    get roundWords() {
      const rinse = this.rinse;
      if (!rinse) return '';
      const further = rinse.further[Math.min(rinse.further.length - 1, state.round - 1)] || 1;
      return word(state.verdict(rinse) === 'clean' ? 'round' : 'round-of', { round: state.round, rounds: Math.max(state.round, Math.round(state.round - 1 + further)) });
    },
    get leftWords() {
      const left = this.rinse && state.leftL(this.rinse);
      return left === null ? '' : word('water-left', { volume: volume(left) });
    },
    get poured() { return this.turn && here()?.litres > 0 ? word('poured', { volume: volume(here().litres) }) : ''; },
    get took() {
      const r = this.turn ? here() : null;
      return r && r.answer !== null && r.started !== null && r.stopped !== null ? word('took', { clock: clockOf((r.stopped - r.started) / 1000) }) : '';
    },
    get wasSlow() { return this.turn > 0 && !!state.step().tank && state.slow(state.step().tank) && !!here() && here().answer !== null; },

    // The choice on the screen is judged as if it had been said, so that the answer stands there before the thumb goes on.
    get verdict() {
      const rinse = this.rinse;
      if (!rinse) return '';
      const trial = runState(script, rules, taps);
      pending.forEach(t => trial.apply(t));
      if (trial.step().kind === 'judge' && (this.end || this.debris)) {
        const r = trial.fresh(`${trial.step().id}#${trial.round}`);
        if (this.end) r.said.end = this.end;
        if (this.debris) r.said.debris = this.debris;
      }
      return trial.verdict(rinse);
    },
    choose(event) { this[event.target.name] = event.target.value; },
    chosen(el) { return this[el.name] === el.value; },
    otherVerdict(el) { return el.dataset.verdict !== this.verdict; },
    get more() { return ['one-more', 'once-more-to-be-sure'].includes(this.verdict) ? 'is-first' : ''; },
    get enough() { return ['clean', 'stop-and-scrub', 'no-water-left', 'not-emptied'].includes(this.verdict) ? 'is-first' : ''; },
    get noMore() { return this.verdict === 'not-emptied'; },

    // ---- a flow meter on the rinse hose ----
    metered: null, meterFrom: null, meterAsked: 0,
    askMeter(t, step, record) {
      if (!data.meter || record?.started == null) return;
      if (this.meterFrom !== record.started) [this.meterFrom, this.metered, this.meterAsked] = [record.started, null, 0];
      if (state.fillingSince === null || t - this.meterAsked < 1000) return;
      this.meterAsked = t;
      const from = record.started;
      fetch(`${data.meter}&tank=${encodeURIComponent(step.tank)}&from=${Math.floor(from)}`).then(answer => answer.status === 200 ? answer.json() : null)
        .then(said => { if (said && this.meterFrom === from) this.metered = said.litres; }, () => { /* the clock goes on without it */ });
    },

    // ---- clocks ----
    tick() {
      const t = time.now(), step = state.step(), record = here(), kind = this.section()?.querySelector('[data-clock]')?.dataset.clock;
      this.now = t;
      let ringing = null;
      if (kind) {
        const limit = state.limitOf(step);
        let aim = step.aimSeconds || null, most = null, seconds = 0, words = '';
        if (kind === 'fill') {
          seconds = state.filledSeconds(t);
          most = typeof limit?.seconds === 'number' ? limit.seconds : null;
          if (most !== null && aim !== null) aim = Math.min(aim, most);
          this.askMeter(t, step, record);
          const flow = this.metered === null ? Number(data.flow) || 0 : 0;
          const by = flow > 0 ? word(step.aimL ? 'filled-of' : 'filled', { volume: volume(seconds / 60 * flow), aim: step.aimL ? volume(step.aimL) : '' }) : '';
          words = (most !== null ? word('of-at-most', { clock: clockOf(most) }) : limit ? word('at-most', { volume: atMost(limit) }) : '') + by
            + (this.metered === null ? '' : word('metered', { volume: volume(this.metered) }));
        } else {
          seconds = record?.started == null ? 0 : ((record.stopped ?? t) - record.started) / 1000;
          if (kind === 'flood') { most = limit ? limit.seconds : 15; words = word('of-at-most', { clock: clockOf(most) }); }
          else if (kind === 'open-rinse') words = aim ? word('of-about', { clock: clockOf(aim) }) : '';
          else {
            aim = step.usualSeconds || null;
            words = aim ? word(step.slowSeconds && seconds > step.slowSeconds ? 'slower' : 'usual', { clock: clockOf(aim) }) : '';
          }
        }
        const whole = most || (aim ? aim * 1.4 : 180);
        const running = kind === 'fill' ? state.fillingSince !== null : kind === 'flood' && record?.started != null && record.stopped === null;
        // By the meter, where there is one, and by the clock.
        const room = kind === 'fill' && this.metered !== null && limit ? limit.upToL - limit.upperLevelL : null;
        const over = running && (most !== null && seconds >= most || room !== null && this.metered >= room);
        const warn = running && !over && (most !== null && seconds >= 0.8 * most || room !== null && this.metered >= 0.8 * room);
        const reached = running && !over && !warn && kind === 'fill' && aim !== null && seconds >= aim;
        this.clock = {
          text: clockOf(seconds), words, width: Math.min(100, Math.max(0, 100 * seconds / whole)).toFixed(2), aim: aim ? Math.min(99, 100 * aim / whole) : -5, warn: most ? 80 : -5,
          look: over ? 'is-over' : warn ? 'is-warn' : reached ? 'is-enough' : '',
        };
        ringing = over ? 'alarm' : warn ? 'warn' : null;
      }
      // Whatever step is looked at: a fill that goes too far rings.
      if (state.fillingSince !== null && kind !== 'fill') {
        const fill = script.steps.find(s => s.id === state.fillOf?.split('#')[0]), there = fill && state.limitOf(fill);
        if (typeof there?.seconds === 'number' && state.filledSeconds(t) >= there.seconds) ringing = 'alarm';
      }
      this.alarmFor = ringing !== 'alarm' || this.ended ? null : state.fillingSince === null ? 'flood' : 'fill';
      document.body.classList.toggle('is-alarm', this.alarmFor !== null);
      if (this.alarmFor) this.alarmClock = clockOf(state.fillingSince !== null ? state.filledSeconds(t) : (t - record.started) / 1000);
      if (ringing && !this.ended) alarm.ring(ringing, t);
      this.levels = levels(t);
    },
    notThisAlarm(el) { return el.dataset.alarmFor !== this.alarmFor || (el.dataset.press === 'open' && state.step().kind !== 'fill'); },

    // ---- the drawing ----
    share(id) {
      const tank = script?.tanks.find(k => k.id === id);
      return tank && id in this.levels ? this.levels[id] / tank.capacityL : null;
    },
    surface(el) {
      const svg = el.closest('[data-drawn]'), share = this.share(svg.dataset.drawn);
      return share === null ? null : Number(svg.dataset.bottom) - Math.min(1, share) * (Number(svg.dataset.bottom) - Number(svg.dataset.top));
    },
    surfaceY(el) { return this.surface(el)?.toFixed(2) ?? el.getAttribute('y'); },
    depth(el) {
      const y = this.surface(el);
      return y === null ? el.getAttribute('height') : Math.max(0, Number(el.closest('[data-drawn]').dataset.bottom) - y + 2).toFixed(2);
    },
    lineAt(el) {
      const y = this.surface(el);
      return y === null ? el.getAttribute('transform') : `translate(0 ${y.toFixed(2)})`;
    },
    tank(el) {
      if (!this.turn) return '';
      const id = el.dataset.drawn, drained = state.record(`drain-${id}`);
      return [state.isOpen(id) ? 'is-open' : '', drained && drained.answer !== null && state.emptied(id) ? 'is-rinsed' : '', state.waterOn && state.waterInto === id ? state.endClosed ? 'is-from-below' : 'is-filling' : ''].join(' ');
    },
    about(el) {
      const share = this.share(el.dataset.share);
      return share === null ? el.textContent : word('about', { percent: Math.round(share * 100) });
    },

    // ---- pressing ----
    submit(event) {
      const form = event.target, button = event.submitter, press = button?.dataset.press;
      if (form.dataset.setUp && press === 'done') { this.setUp(event, form); return; }
      if (!form.matches('[data-run-form], [data-set-up]')) return;
      event.preventDefault();
      event.stopPropagation();
      alarm.ready();
      if (!press) return;
      const said = {};
      if (state.step().kind === 'judge' && (press === 'again' || press === 'enough')) {
        if (this.end) said.end = this.end;
        if (this.debris) said.debris = this.debris;
        if (press === 'again' && !said.end) { this.say(data.sayEnd); return; }
      }
      const field = form.querySelector('[name=litres]');
      if (field && ['open', 'water-off', 'poured', 'in'].includes(press) && !field.closest('[hidden]') && field.value.trim()) {
        const litres = Number(field.value.replace(',', '.').replace(/[^\d.]/g, '')) * Number(data.litres);
        if (!(litres >= 0) || litres > 1900) { this.say(data.sayWater); return; }
        said.litres = String(Math.round(litres * 100) / 100);
      }
      if (button.dataset.litres) said.litres = button.dataset.litres;
      if (!said.litres && this.metered > 0 && ['open', 'water-off'].includes(press) && ['fill', 'top-up'].includes(state.step().kind) && this.meterFrom === here()?.started)
        said.litres = String(Math.round(this.metered * 10) / 10);
      const full = form.querySelector('[name=full]');
      if (full?.checked && press === 'open') said.full = full.value;
      const problem = form.querySelector('[name=problem]');
      if (problem?.checked && press === 'done') said.problem = problem.value;
      if (press === 'jump') said.to = button.dataset.to;
      this.tap(press, said, button.textContent.trim());
      if (press === 'again') {
        form.reset();
        this.end = null;
        this.debris = null;
      }
    },
    // The check of the hose run goes by itself; the step is done when it is kept.
    setUp(event, form) {
      event.preventDefault();
      event.stopPropagation();
      fetch(form.dataset.setUp, { method: 'POST', body: new FormData(form), headers: { 'X-Part': 'run' } }).then(answer => answer.json().then(said => {
        if (answer.ok && said.ok) this.tap('done', {}, word('hose-checked'));
        else this.say(said.say || said.problem);
      })).catch(() => {
        this.tap('done', {}, word('hose-checked'));
        this.say(word('hose-unsaved'));
      });
    },

    // ---- other devices ----
    listen() {
      if (!window.EventSource) { setInterval(() => this.ask(), 5000); return; }
      const stream = new EventSource(data.live);
      stream.onmessage = message => {
        if (this.cutOff) this.online(true);
        if (Number(message.data) !== version && !sending) this.ask();
        this.send();
      };
      stream.onerror = () => this.online(false);
    },
    ask() {
      fetch(data.stateAt).then(answer => { if (answer.status !== 200) throw new Error(); return answer.json(); }).then(said => {
        this.online(true);
        const was = this.ended;
        this.take(said);
        this.render();
        if (said.ended && !was) this.leave();
        this.send();
      }).catch(() => this.online(false));
    },
    woke() {
      if (document.hidden) return;
      this.ask();
      this.stayAwake();
    },
    shown(event) { if (event.persisted) this.ask(); },
    // Where the browser allows it the screen stays on.
    stayAwake() { navigator.wakeLock?.request('screen').catch(() => { }); },
  };
};
