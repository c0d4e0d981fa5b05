// The page of a run. Each press counts at once here, is kept in the page's own store, and is sent with its own key, so that it counts once however often it
// travels. Clocks are computed from the moments of the presses. Another device's presses arrive by the event stream.
(function () {
  'use strict';
  var root = document.querySelector('[data-run]');
  if (!root) return;

  var script = JSON.parse(document.getElementById('run-script').textContent);
  var units = { symbol: root.dataset.symbol, litres: Number(root.dataset.litres) };
  var store = 'run-' + root.dataset.word;
  var taps = [], pending = [], version = 0, ended = false, sending = false, state;

  // The server's time. A device's clock may be wrong or be changed; it only counts on from the last answer, by the larger of two clocks, so that a phone that
  // slept or was set back never shows less than has gone by.
  var base = { server: 0, mono: 0, wall: 0 };
  function sync(now) { base = { server: now, mono: performance.now(), wall: Date.now() }; }
  function now() { return base.server + Math.max(performance.now() - base.mono, Math.min(Date.now() - base.wall, 86400000), 0); }

  function load() {
    try { pending = JSON.parse(localStorage.getItem(store) || '[]'); } catch (e) { pending = []; }
    if (!Array.isArray(pending)) pending = [];
  }
  function keep() {
    try {
      if (pending.length) localStorage.setItem(store, JSON.stringify(pending));
      else localStorage.removeItem(store);
    } catch (e) { /* a browser without a store: then it lasts as long as the page */ }
  }

  function fold() {
    state = window.runState(script, taps);
    pending.forEach(function (t) { state.apply(t); });
  }

  function take(answer) {
    sync(answer.now);
    var seen = {};
    answer.taps.forEach(function (t) { seen[t.key] = true; });
    taps = answer.taps;
    version = answer.version;
    pending = pending.filter(function (t) { return !seen[t.key]; });
    keep();
    ended = answer.ended;
    fold();
  }

  // ---- sending ----
  function send() {
    if (sending || pending.length === 0) return;
    sending = true;
    var mine = pending.slice(0, 400);
    fetch(root.dataset.post, { method: 'POST', headers: { 'Content-Type': 'application/json', 'RequestVerificationToken': root.dataset.token }, body: JSON.stringify({ taps: mine }) }).then(function (answer) {
      sending = false;
      if (answer.redirected) { say(root.dataset.signIn); return null; }
      if (answer.status === 400) {
        return answer.text().then(function (text) {
          var said = null;
          try { said = JSON.parse(text); } catch (e) { /* the page's token is too old */ }
          if (!said) { again(); return; }
          // The one that cannot be taken goes, the others are sent again; what the run as a whole does not take waits here.
          if (typeof said.index === 'number') pending = pending.filter(function (t) { return t.key !== mine[said.index].key; });
          keep();
          fold();
          render();
          say(said.problem);
          if (typeof said.index === 'number') send();
        });
      }
      if (answer.status !== 200) throw new Error();
      return answer.json().then(function (said) {
        online(true);
        var lost = mine.filter(function (t) { return said.fates && said.fates[t.key] === 'stale' && !['back', 'jump', 'skip'].includes(t.press) && t.late; });
        take(said);
        render();
        if (lost.length) say('Another device continued this run while you were offline. Not used from here: ' + lost.map(function (t) { return t.label; }).join(', ') + '.');
        if (said.ended) { leave(); return; }
        send();
      });
    }).catch(function () {
      sending = false;
      online(false);
      setTimeout(send, 2000);
    });
  }

  // A fresh page has a fresh token; what waits is kept in the page's store meanwhile. Once a minute at most.
  function again() {
    var last = Number(sessionStorage.getItem(store + '-again') || 0);
    if (Date.now() - last < 60000) { online(false); return; }
    sessionStorage.setItem(store + '-again', Date.now());
    window.location.reload();
  }

  function leave() { window.location.assign(root.dataset.after); }

  var cutOff = false;
  function online(yes) {
    cutOff = !yes;
    root.querySelector('[data-cut-off]').hidden = yes;
    root.querySelector('[data-waiting]').textContent = pending.length;
  }

  function tap(press, said, label) {
    var step = state.step();
    var t = { key: crypto.getRandomValues(new Uint32Array(4)).join('-'), at: Math.round(now()), step: step.id, round: state.round, press: press, said: said || {}, label: label, late: cutOff };
    var fate = state.apply(t);
    if (fate === 'blocked') { say(root.dataset.blocked); fold(); return; }
    if (fate === 'stale') { fold(); render(); return; }
    pending.push(t);
    keep();
    render();
    send();
  }

  // ---- telling ----
  var notice = root.querySelector('[data-notice]'), quiet;
  function say(text) {
    notice.textContent = text;
    notice.hidden = false;
    clearTimeout(quiet);
    quiet = setTimeout(function () { notice.hidden = true; }, 9000);
  }

  var sound = null, rang = null;
  // Sound and vibration are allowed once somebody has touched the page.
  function touched() { return !navigator.userActivation || navigator.userActivation.hasBeenActive; }
  function ready() {
    if (!touched()) return;
    try {
      sound = sound || new (window.AudioContext || window.webkitAudioContext)();
      if (sound.state === 'suspended') sound.resume();
    } catch (e) { sound = null; }
  }
  function beep(pitch, length) {
    if (!sound) return;
    var tone = sound.createOscillator(), loud = sound.createGain();
    tone.frequency.value = pitch;
    tone.type = 'square';
    loud.gain.value = 0.35;
    tone.connect(loud);
    loud.connect(sound.destination);
    tone.start();
    tone.stop(sound.currentTime + length);
  }
  function ring(kind) {
    var second = Math.floor(now() / 1000);
    if (rang === kind + second || (kind === 'warn' && second % 3)) return;
    rang = kind + second;
    beep(kind === 'warn' ? 880 : 1320, kind === 'warn' ? 0.12 : 0.6);
    if (navigator.vibrate && touched()) navigator.vibrate(kind === 'warn' ? 120 : [400, 120, 400]);
  }

  // ---- showing ----
  function clock(seconds) {
    var whole = Math.max(0, Math.floor(seconds));
    return Math.floor(whole / 60) + ':' + String(whole % 60).padStart(2, '0');
  }
  function volume(litres) {
    var v = litres / units.litres;
    return (units.symbol === 'gal' && v < 2.95 ? Math.round(v * 10) / 10 : Math.round(v)) + ' ' + units.symbol;
  }
  function each(selector, act, within) { (within || root).querySelectorAll(selector).forEach(act); }
  function sectionOf(id) { return root.querySelector('[data-step="' + CSS.escape(id) + '"]'); }

  function holds(word, step, record) {
    switch (word) {
      case 'open': return state.isOpen(step.tank);
      case 'closed': return !state.isOpen(step.tank);
      case 'wet': return state.waterOn;
      case 'dry': return !state.waterOn;
      case 'still-dry': return !state.waterOn || state.isOpen(step.tank);
      case 'begun': return !!record && record.started !== null;
      case 'fresh': return !record || record.started === null;
      case 'filled': return state.filledSeconds(now()) > 0 || (!!record && record.litres > 0);
      case 'unfilled': return !(state.filledSeconds(now()) > 0 || (!!record && record.litres > 0));
      case 'answered': return !!record && record.answer !== null;
      case 'unanswered': return !record || record.answer === null;
      case 'failed': return !!record && record.answer === 'fail';
      case 'flooding': return !!record && record.started !== null && record.stopped === null;
      case 'flooded': return !!record && record.stopped !== null && state.endClosed;
      case 'still': return !state.endClosed && !(record && record.started !== null && record.stopped === null);
      case 'emptied': return state.emptied(step.tank);
      case 'unemptied': return !state.emptied(step.tank);
      default: return true;
    }
  }

  function render() {
    var step = state.step(), section = sectionOf(step.id), steps = script.steps, record = state.record(step.id, state.round);
    each('[data-step]', function (s) {
      var shown = s === section;
      if (shown && s.hidden) { s.hidden = false; if (document.activeElement === document.body || root.contains(document.activeElement)) { var h = s.querySelector('h1'); if (h) h.focus({ preventScroll: true }); } window.scrollTo(0, 0); }
      else if (!shown) s.hidden = true;
    });
    root.querySelector('[data-count]').textContent = 'step ' + (state.position + 1) + ' of ' + steps.length;
    each('[data-seg]', function (seg, i) {
      seg.className = i < state.position ? 'is-past' : i === state.position ? 'is-now' : '';
    });
    each('[data-item]', function (item) {
      var i = steps.map(function (s) { return s.id; }).indexOf(item.dataset.item), s = steps[i];
      var done = false;
      for (var n = 0; n <= Math.max(1, s.loop ? state.roundsOf(s.loop) : 0); n++) { var r = state.record(s.id, n); if (r && r.answer !== null) done = true; }
      item.classList.toggle('is-done', done);
      item.classList.toggle('is-skipped', !done && i < state.position);
      item.classList.toggle('is-now', i === state.position);
      if (i === state.position) item.setAttribute('aria-current', 'step'); else item.removeAttribute('aria-current');
    });
    each('[data-valve]', function (tile) { show(tile, tile.dataset.valve.split(' ').some(function (t) { return state.isOpen(t); })); });
    each('[data-water]', function (tile) { show(tile, state.waterOn); });
    each('[data-end]', function (tile) { show(tile, !state.endClosed); });
    each('[data-when]', function (e) {
      e.hidden = !e.dataset.when.split(' ').every(function (w) { return holds(w, step, record); });
    }, section);
    var rinse = state.rinseOf(step);
    if (rinse) {
      var cycles = state.cycles(rinse), verdict = state.verdict(rinse), further = rinse.further[Math.min(rinse.further.length - 1, state.round - 1)] || 1;
      each('[data-round-words]', function (e) { e.textContent = 'rinse ' + state.round + (verdict === 'clean' ? '' : ', about ' + Math.max(state.round, Math.round(state.round - 1 + further)) + ' expected'); });
      if (step.kind === 'judge') judge(section, rinse, record);
      var left = state.leftL(rinse);
      each('[data-left]', function (e) { e.hidden = left === null; if (left !== null) e.textContent = 'Rinse water left: ' + volume(left); }, section);
    } else each('[data-round-words]', function (e) { e.textContent = ''; });
    each('[data-poured]', function (e) { e.textContent = record && record.litres > 0 ? volume(record.litres) + ' so far' : ''; }, section);
    each('[data-said]', function (e) {
      e.textContent = record && record.answer !== null && record.started !== null && record.stopped !== null ? 'It took ' + clock((record.stopped - record.started) / 1000) + '.' : '';
    }, section);
    each('[data-after-clock]', function (e) {
      var slow = step.tank && state.slow(step.tank);
      e.hidden = !slow || !record || record.answer === null;
    }, section);
    tick();
  }

  function show(tile, on) {
    tile.classList.toggle('is-on', on);
    tile.querySelector('b').textContent = on ? tile.dataset.on : tile.dataset.off;
  }

  // The choice on the screen is judged as if it had been said, so that the answer stands there before the thumb goes on.
  function judge(section, rinse, record) {
    var form = section.querySelector('form'), data = new FormData(form);
    var end = data.get('end') || record && record.said.end || null, debris = data.get('debris') || record && record.said.debris || null;
    if (!data.get('end') && record && record.said.end) check(form, 'end', record.said.end);
    if (!data.get('debris') && record && record.said.debris) check(form, 'debris', record.said.debris);
    var trial = window.runState(script, taps);
    pending.forEach(function (t) { trial.apply(t); });
    if (end || debris) { var r = trial.fresh(trial.step().id + '#' + trial.round); if (end) r.said.end = end; if (debris) r.said.debris = debris; }
    var verdict = trial.verdict(rinse);
    each('[data-verdict]', function (v) { v.hidden = v.dataset.verdict !== verdict; }, section);
    var more = verdict === 'one-more' || verdict === 'once-more-to-be-sure';
    section.querySelector('[data-press=again]').classList.toggle('is-first', more);
    section.querySelector('[data-press=enough]').classList.toggle('is-first', verdict === 'clean' || verdict === 'stop-and-scrub' || verdict === 'no-water-left' || verdict === 'not-emptied');
    section.querySelector('[data-press=again]').disabled = verdict === 'not-emptied';
  }
  function check(form, name, value) {
    var field = form.querySelector('[name="' + name + '"][value="' + value + '"]');
    if (field) field.checked = true;
  }

  // ---- clocks ----
  var alarm = root.querySelector('[data-alarm]');
  function tick() {
    var step = state.step(), section = sectionOf(step.id), t = now(), record = state.record(step.id, state.round);
    var box = section.querySelector('[data-clock]'), ringing = null;
    if (box) {
      var figure = box.querySelector('[data-figure]'), words = box.querySelector('[data-figure-words]'), bar = box.querySelector('[data-bar]');
      var limit = state.limitOf(step), kind = box.dataset.clock, most = null, aim = step.aimSeconds || null, seconds = 0;
      if (kind === 'fill') {
        seconds = state.filledSeconds(t);
        most = limit && typeof limit.seconds === 'number' ? limit.seconds : null;
        if (most !== null && aim !== null) aim = Math.min(aim, most);
        var flow = Number(root.dataset.flow) || 0;
        var by = flow > 0 ? ', ' + volume(seconds / 60 * flow) + (step.aimL ? ' of ' + volume(step.aimL) : '') + ' so far' : '';
        words.textContent = most !== null ? 'of ' + clock(most) + ' at most' + by : limit ? 'at most ' + volume(limit.litres) + by : by;
      } else {
        var from = record ? record.started : null;
        seconds = from === null ? 0 : ((record.stopped === null ? t : record.stopped) - from) / 1000;
        if (kind === 'flood') { most = limit ? limit.seconds : 15; words.textContent = 'of ' + clock(most) + ' at most'; }
        else if (kind === 'open-rinse') words.textContent = aim ? 'of about ' + clock(aim) : '';
        else {
          aim = step.usualSeconds || null;
          words.textContent = aim ? (step.slowSeconds && seconds > step.slowSeconds ? 'slower than this rig does: usually ' : 'usually about ') + clock(aim) : '';
        }
      }
      figure.textContent = clock(seconds);
      var whole = most || (aim ? aim * 1.4 : 180);
      bar.setAttribute('width', Math.min(100, 100 * seconds / whole).toFixed(2));
      each('[data-mark=aim]', function (m) { m.setAttribute('x', aim ? Math.min(99, 100 * aim / whole) : -5); }, box);
      each('[data-mark=warn]', function (m) { m.setAttribute('x', most ? 80 : -5); }, box);
      var running = kind === 'fill' ? state.fillingSince !== null : kind === 'flood' ? !!record && record.started !== null && record.stopped === null : false;
      var warn = running && most !== null && seconds >= 0.8 * most, over = running && most !== null && seconds >= most;
      box.classList.toggle('is-warn', warn && !over);
      box.classList.toggle('is-over', over);
      box.classList.toggle('is-enough', !warn && running && aim !== null && kind === 'fill' && seconds >= aim);
      if (over) ringing = 'alarm'; else if (warn) ringing = 'warn';
    }
    // Whatever step is looked at: a fill that goes too far rings.
    if (state.fillingSince !== null && (!box || box.dataset.clock !== 'fill')) {
      var fill = script.steps.filter(function (s) { return state.fillOf && s.id === state.fillOf.split('#')[0]; })[0];
      var there = fill && state.limitOf(fill);
      if (there && typeof there.seconds === 'number' && state.filledSeconds(t) >= there.seconds) ringing = 'alarm';
    }
    alarm.hidden = ringing !== 'alarm' || ended;
    document.body.classList.toggle('is-alarm', !alarm.hidden);
    if (!alarm.hidden) {
      each('[data-alarm-for]', function (part) {
        part.hidden = (part.dataset.alarmFor === 'flood') !== (state.fillingSince === null) || (part.dataset.press === 'open' && step.kind !== 'fill');
      }, alarm);
      alarm.querySelector('[data-alarm-clock]').textContent = clock(state.fillingSince !== null ? state.filledSeconds(t) : (t - record.started) / 1000);
    }
    if (ringing && !ended) ring(ringing);
    draw(t);
  }

  // ---- the drawing: the level follows from the valves and the water, by the times of the presses ----
  function levels(t) {
    var level = {}, open = {}, water = false, into = null, at = null, flow = Number(root.dataset.flow) || 6.8;
    script.tanks.forEach(function (k) { level[k.id] = k.levelL; if (k.open) open[k.id] = true; });
    function advance(to) {
      var s = (to - at) / 1000;
      if (s <= 0) return;
      script.tanks.forEach(function (k) {
        if (open[k.id]) {
          var step = script.steps.filter(function (x) { return x.id === 'drain-' + k.id; })[0];
          var full = (step && step.usualSeconds ? step.usualSeconds / Math.sqrt(Math.max(k.levelL, 0.05 * k.capacityL) / k.capacityL) : 150);
          var root2 = Math.max(0, Math.sqrt(level[k.id] / k.capacityL) - s / full);
          level[k.id] = Math.max(Math.min(level[k.id], 0.01 * k.capacityL), k.capacityL * root2 * root2);
        } else if (water && into === k.id) level[k.id] = Math.min(k.capacityL, level[k.id] + flow * s / 60);
      });
    }
    state.changes.forEach(function (c) {
      if (at !== null) advance(c.at);
      at = c.at;
      if (c.add) level[c.tank] = Math.min(script.tanks.filter(function (k) { return k.id === c.tank; })[0].capacityL, level[c.tank] + c.add);
      if (c.empty) level[c.tank] = Math.min(level[c.tank], 0.01 * script.tanks.filter(function (k) { return k.id === c.tank; })[0].capacityL);
      if (c.water !== undefined) { water = c.water; into = c.into; }
      if (c.open !== undefined) { if (c.open) open[c.tank] = true; else delete open[c.tank]; }
    });
    if (at !== null) advance(t);
    return level;
  }
  function draw(t) {
    var level = levels(t);
    each('[data-drawn]', function (svg) {
      var tank = script.tanks.filter(function (k) { return k.id === svg.dataset.drawn; })[0];
      if (!tank) return;
      var share = level[tank.id] / tank.capacityL, bottom = Number(svg.dataset.bottom), top = Number(svg.dataset.top);
      var y = bottom - Math.min(1, share) * (bottom - top);
      var liquid = svg.querySelector('.liquid'), line = svg.querySelector('.median');
      liquid.setAttribute('y', y.toFixed(2));
      liquid.setAttribute('height', Math.max(0, bottom - y + 2).toFixed(2));
      line.setAttribute('transform', 'translate(0 ' + y.toFixed(2) + ')');
      svg.classList.toggle('is-open', state.isOpen(tank.id));
      var drained = state.record('drain-' + tank.id);
      svg.classList.toggle('is-rinsed', !!drained && drained.answer !== null && state.emptied(tank.id));
      svg.classList.toggle('is-filling', state.waterOn && state.waterInto === tank.id);
      var figure = root.querySelector('[data-share="' + CSS.escape(tank.id) + '"]');
      if (figure) figure.textContent = 'about ' + Math.round(share * 100) + ' %';
    });
  }

  // ---- pressing ----
  root.addEventListener('submit', function (event) {
    var form = event.target, button = event.submitter;
    if (!form.matches('[data-run-form]')) return;
    event.preventDefault();
    event.stopImmediatePropagation();
    ready();
    var press = button && button.dataset.press;
    if (!press) return;
    var said = {};
    if (press === 'again' || press === 'enough') {
      var data = new FormData(form);
      ['end', 'debris'].forEach(function (f) { if (data.get(f)) said[f] = data.get(f); });
      if (press === 'again' && !said.end) { say(root.dataset.sayEnd); return; }
    }
    var field = form.querySelector('[name=litres]');
    if (field && ['open', 'water-off', 'poured', 'in'].includes(press) && !field.closest('[hidden]') && field.value.trim()) {
      var litres = Number(field.value.replace(',', '.').replace(/[^\d.]/g, '')) * units.litres;
      if (!(litres >= 0) || litres > 1900) { say(root.dataset.sayWater); return; }
      said.litres = String(Math.round(litres * 100) / 100);
    }
    if (button.dataset.litres) said.litres = button.dataset.litres;
    var full = form.querySelector('[name=full]');
    if (full && full.checked && press === 'open') said.full = full.value;
    if (press === 'jump') said.to = button.dataset.to;
    tap(press, said, button.textContent.trim());
    if (press === 'again') form.reset();
  }, true);

  root.addEventListener('change', function (event) {
    if (event.target.closest('[data-step]') && (event.target.name === 'end' || event.target.name === 'debris')) render();
  });

  // The check of the hose run goes by itself; the step is done when it is kept.
  each('[data-set-up]', function (form) {
    form.addEventListener('submit', function (event) {
      if (event.submitter && event.submitter.dataset.press !== 'done') return;
      event.preventDefault();
      event.stopImmediatePropagation();
      fetch(form.dataset.setUp, { method: 'POST', body: new FormData(form), headers: { 'X-Part': 'run' } }).then(function (answer) {
        return answer.json().then(function (said) {
          if (answer.ok && said.ok) tap('done', {}, 'hose run checked');
          else say(said.say || said.problem);
        });
      }).catch(function () { tap('done', {}, 'hose run checked'); say('The check was not saved: no connection. The run continues.'); });
    }, true);
  });

  // On a phone the list of steps is a sheet.
  var sheet = document.getElementById('run-all'), list = root.querySelector('.run-list > form'), aside = list.parentNode;
  root.addEventListener('click', function (event) {
    if (event.target.closest('[data-open=run-all]')) sheet.append(list);
    if (event.target.closest('#run-all .run-item')) sheet.close();
  });
  sheet.addEventListener('close', function () { aside.append(list); });

  // ---- other devices ----
  function listen() {
    if (!window.EventSource) { setInterval(ask, 5000); return; }
    var stream = new EventSource(root.dataset.live);
    stream.onmessage = function (message) {
      if (cutOff) online(true);
      if (Number(message.data) !== version && !sending) ask();
      send();
    };
    stream.onerror = function () { online(false); };
  }
  function ask() {
    fetch(root.dataset.stateAt).then(function (answer) { if (answer.status !== 200) throw new Error(); return answer.json(); }).then(function (said) {
      online(true);
      var was = ended;
      take(said);
      render();
      if (said.ended && !was) leave();
      send();
    }).catch(function () { online(false); });
  }
  document.addEventListener('visibilitychange', function () { if (!document.hidden) { ask(); if (root.dataset.awake) stayAwake(); } });
  window.addEventListener('online', function () { ask(); });
  window.addEventListener('pageshow', function (event) { if (event.persisted) ask(); });

  // Where the browser allows it the screen stays on.
  function stayAwake() { if (navigator.wakeLock) navigator.wakeLock.request('screen').catch(function () { }); }
  stayAwake();

  load();
  take(JSON.parse(document.getElementById('run-start').textContent));
  render();
  if (ended) return;
  send();
  listen();
  setInterval(tick, 200);
})();
