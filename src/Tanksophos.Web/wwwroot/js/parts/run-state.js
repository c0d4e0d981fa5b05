// Where a run stands, from its steps and what was pressed: the same rules as on the server, so that the page can go on while the connection is lost.
// A test plays thousands of presses through both and compares.

var MOST_ROUNDS = 30;

function number(text) {
  return /^\d+(\.\d*)?$|^\.\d+$/.test(text || '') && Number(text) < 2000 ? Number(text) : null;
}

function RunState(script) {
  this.script = script;
  this.position = 0;
  this.round = 0;
  this.rounds = {};
  this.records = {};
  this.open = {};
  this.waterOn = false;
  this.waterInto = null;
  this.endClosed = false;
  this.endedAt = null;
  this.finished = false;
  this.begunAt = null;
  this.filled = 0;
  this.fillingSince = null;
  this.fillOf = null;
  this.last = -Infinity;
  this.keys = {};
  this.changes = []; // what the drawing needs: valves and water with their times
  script.tanks.forEach(function (t) { if (t.open) this.open[t.id] = true; }, this);
}

var P = RunState.prototype;

// The same bounds as the core's: a step that went on longer was forgotten, not timed; more was not poured.
var LONGEST_SECONDS = 7200, MOST_LITRES = 2000, LITTLE_WATER = 0.5;
function timed(record) {
  if (record.started === null || record.stopped === null) return null;
  var seconds = (record.stopped - record.started) / 1000;
  return seconds <= LONGEST_SECONDS ? seconds : null;
}

P.step = function () { return this.script.steps[this.position]; };
P.record = function (step, round) { return this.records[step + '#' + (round || 0)]; };
P.roundsOf = function (loop) { return this.rounds[loop] || 0; };
P.isOpen = function (tank) { return !!this.open[tank]; };
P.roleOf = function (tank) { return this.script.tanks.filter(function (t) { return t.id === tank; })[0].role; };
P.rinseOf = function (step) { return step.loop ? this.script.rinses.filter(function (r) { return r.loop === step.loop; })[0] : null; };
P.filledSeconds = function (now) { return this.filled + (this.fillingSince === null ? 0 : Math.max(0, (now - this.fillingSince) / 1000)); };
P.emptied = function (tank) { var r = this.record('drain-' + tank); return !r || (r.answer !== 'trickle' && r.answer !== 'nothing'); };
P.isShut = function (tank) { return this.endClosed || !this.isOpen(tank); };
P.answerOf = function (step) { var r = this.record(step); return r ? r.answer : null; };
P.slow = function (tank) {
  var step = this.script.steps.filter(function (s) { return s.id === 'drain-' + tank; })[0], r = this.record('drain-' + tank);
  if (!r) return false;
  return r.answer === 'slow' || !!(step && step.slowSeconds && timed(r) > step.slowSeconds);
};
P.limitOf = function (step) { return step.tank && step.suspectLimit && this.slow(step.tank) ? step.suspectLimit : step.limit; };

P.cycles = function (rinse) {
  var steps = this.script.steps.filter(function (s) { return s.loop === rinse.loop; });
  var fill = steps.filter(function (s) { return s.kind !== 'judge'; })[0], judge = steps.filter(function (s) { return s.kind === 'judge'; })[0];
  var cycles = [];
  for (var n = 1; n <= this.roundsOf(rinse.loop); n++) {
    var water = this.record(fill.id, n), seen = this.record(judge.id, n);
    if (!water && !seen) continue;
    var seconds = null;
    if (fill.kind === 'fill' && water && water.filledSeconds > 0 && water.filledSeconds <= LONGEST_SECONDS) seconds = Math.round(water.filledSeconds);
    else if ((fill.kind === 'open-rinse' || fill.kind === 'flood') && water && timed(water) !== null) seconds = Math.round(timed(water));
    var litres = water && water.litres > 0 ? Math.round(water.litres * 10) / 10 : null;
    var end = seen && seen.said.end || null, debris = seen && seen.said.debris || null;
    if (seconds === null && litres === null && end === null && debris === null) continue;
    cycles.push({ seconds: seconds, litres: litres, end: end, debris: debris });
  }
  return cycles;
};

P.leftL = function (rinse) {
  if (typeof rinse.onHandL !== 'number') return null;
  return Math.max(0, this.cycles(rinse).reduce(function (left, c) { return left - (c.litres === null ? rinse.perCycleL : c.litres); }, rinse.onHandL));
};

function clean(cycle) { return cycle.end === 'clear' && (cycle.debris === null || cycle.debris === 'none' || cycle.debris === 'specks'); }

P.verdict = function (rinse) {
  if (!this.emptied(rinse.tank)) return 'not-emptied';
  var cycles = this.cycles(rinse), left = this.leftL(rinse), n = 0;
  if (cycles.length === 0 || cycles[cycles.length - 1].end === null) return 'look';
  for (var i = cycles.length - 1; i >= 0 && clean(cycles[i]); i--) n++;
  if (n >= rinse.need) return 'clean';
  var rinses = cycles.reduce(function (sum, c) { return sum + (c.litres !== null && rinse.perCycleL > 0 ? Math.min(1, c.litres / (LITTLE_WATER * rinse.perCycleL)) : 1); }, 0);
  if (rinses >= rinse.cap) return n > 0 ? 'clean' : 'stop-and-scrub';
  if (left !== null && left < 0.5 * rinse.perCycleL) return 'no-water-left';
  return n > 0 ? 'once-more-to-be-sure' : 'one-more';
};

P.apply = function (tap) {
  if (this.keys[tap.key]) return 'stale';
  this.keys[tap.key] = true;
  var at = tap.at > this.last ? tap.at : this.last;
  var fate = this.take(tap, at);
  if (fate !== 'used') return fate;
  this.last = at;
  if (this.begunAt === null) this.begunAt = at;
  return fate;
};

P.take = function (tap, at) {
  var step = this.step();
  if (tap.press === 'resume') {
    if (this.endedAt === null || this.finished) return 'stale';
    this.endedAt = null;
    return 'used';
  }
  if (this.endedAt !== null) return 'stale';
  if (tap.press === 'water-off' && this.waterOn && !(tap.step === step.id && step.presses.includes('water-off'))) {
    this.water(false, at);
    this.litres(tap, at);
    return 'used';
  }
  if (tap.press === 'break-off') {
    if (this.waterOn) this.water(false, at);
    this.endedAt = at;
    return 'used';
  }
  if (tap.step !== step.id || tap.round !== this.round) return 'stale';
  if (tap.press === 'jump') {
    var to = this.script.steps.map(function (s) { return s.id; }).indexOf(tap.said.to);
    if (to < 0) return 'stale';
    var loop = this.script.steps[to].loop;
    this.goTo(to, loop ? Math.max(1, this.roundsOf(loop)) : 0);
    return 'used';
  }
  if (tap.press === 'back') return this.back();
  if (tap.press === 'skip') { this.leaveLoop(); return 'used'; }
  return step.presses.includes(tap.press) ? this.press(tap, at) : 'stale';
};

P.fresh = function (key) {
  if (!this.records[key]) this.records[key] = { started: null, stopped: null, filledSeconds: 0, litres: 0, answer: null, answeredAt: null, said: {} };
  return this.records[key];
};

P.press = function (tap, at) {
  var self = this, step = this.step(), tank = step.tank, key = step.id + '#' + this.round;
  function R() { return self.fresh(key); }
  function answer(stay) {
    var r = R();
    r.answer = tap.press;
    r.answeredAt = at;
    Object.keys(tap.said).forEach(function (f) { r.said[f] = tap.said[f]; });
    if (!stay) self.next();
    return 'used';
  }
  var there = this.records[key];
  switch (tap.press) {
    case 'dry': case 'drips':
      Object.keys(this.open).forEach(function (id) { self.valve(id, false, at); });
      if (tap.press === 'drips') R().said.drips = 'yes';
      return answer(tap.press === 'drips');
    case 'open':
      if (step.kind === 'drain') {
        if (this.isOpen(tank)) return 'stale';
        if (!this.mayOpen(tank)) return 'blocked';
        this.end(false, at);
        this.valve(tank, true, at);
        var d = R();
        d.started = at; d.stopped = null; d.answer = null;
        return 'used';
      }
      if (!this.isOpen(tank) && !this.mayOpen(tank)) return 'blocked';
      this.litres(tap, at);
      R().stopped = at;
      this.valve(tank, true, at);
      this.end(false, at);
      return answer();
    case 'rush': case 'steady': case 'slow': case 'trickle': case 'nothing': case 'leave-open':
      if (!there || there.started === null) return 'stale';
      if (there.stopped === null) there.stopped = at;
      this.changes.push(tap.press !== 'trickle' && tap.press !== 'nothing' ? { at: at, tank: tank, empty: true } : { at: at, tank: tank, kept: true });
      if (tap.press === 'trickle' && this.roleOf(tank) === 'gray') this.valve(tank, false, at);
      return answer();
    case 'closed':
      if (step.kind === 'drain') {
        if (!there || there.started === null) return 'stale';
        if (there.stopped === null) there.stopped = at;
        this.changes.push({ at: at, tank: tank, empty: true });
        this.valve(tank, false, at);
        return answer();
      }
      if (step.kind === 'close') {
        if (this.waterOn) this.water(false, at);
        this.valve(tank, false, at);
        this.end(false, at);
        return answer();
      }
      if (!this.emptied(tank)) return 'blocked';
      this.valve(tank, false, at);
      return 'used';
    case 'close-on':
      var limit = this.limitOf(step);
      if (!this.emptied(tank) || (limit && limit.refused)) return 'blocked';
      if (step.behindEnd) {
        if (!this.mayOpen(tank)) return 'blocked';
        this.valve(tank, true, at);
        this.end(true, at);
      } else this.valve(tank, false, at);
      this.waterInto = tank;
      this.fillOf = key;
      this.water(true, at);
      if (R().started === null) R().started = at;
      return 'used';
    case 'water-on':
      if (this.waterOn) return 'stale';
      if (step.kind === 'fill' && (!this.emptied(tank) || step.behindEnd && !this.endClosed)) return 'blocked';
      if (step.kind === 'open-rinse' && !this.isOpen(tank)) {
        if (!this.mayOpen(tank)) return 'blocked';
        this.valve(tank, true, at);
      }
      this.waterInto = tank;
      if (this.isShut(tank) && this.fillOf === null) this.fillOf = key;
      this.water(true, at);
      if (R().started === null) R().started = at;
      return 'used';
    case 'water-off':
      if (!this.waterOn) return 'stale';
      this.water(false, at);
      R().stopped = at;
      this.litres(tap, at);
      return step.kind === 'open-rinse' ? answer() : 'used';
    case 'poured':
      if (step.loop && !this.emptied(tank)) return 'blocked';
      if (step.loop && this.isOpen(tank)) this.valve(tank, false, at);
      if (R().started === null) R().started = at;
      var poured = number(tap.said.litres) || 0;
      R().litres = Math.min(MOST_LITRES, R().litres + poured);
      this.changes.push({ at: at, tank: tank, add: poured });
      return 'used';
    case 'flood-on':
      var flooding = this.script.tanks.filter(function (t) { return t.role === 'gray'; }).sort(function (a, b) { return b.levelL - a.levelL; })[0].id;
      if (!this.emptied(tank) || (this.endClosed && this.isOpen(flooding))) return 'blocked';
      this.end(true, at);
      this.valve(flooding, true, at);
      this.valve(tank, true, at);
      R().started = at; R().stopped = null;
      return 'used';
    case 'flood-off':
      if (!there || there.started === null || there.stopped !== null) return 'stale';
      this.script.tanks.forEach(function (t) { if (t.role === 'gray') self.valve(t.id, false, at); });
      R().stopped = at;
      return 'used';
    case 'end-open':
      if (!there || there.started === null) return 'stale';
      if (this.script.tanks.some(function (t) { return t.role === 'gray' && self.isOpen(t.id); })) return 'blocked';
      this.end(false, at);
      return answer();
    case 'again':
      if (step.kind === 'sniff') return this.rinseAgain(at);
      answer(true);
      if (this.round >= MOST_ROUNDS) return 'used';
      var first = 0;
      while (this.script.steps[first].loop !== step.loop) first++;
      this.goTo(first, this.round + 1);
      return 'used';
    case 'enough':
      answer(true);
      this.leaveLoop();
      return 'used';
    case 'fail':
      return answer(true);
    case 'in':
      this.litres(tap, at);
      return answer();
    case 'finish':
      answer(true);
      if (this.waterOn) this.water(false, at);
      this.finished = true;
      this.endedAt = at;
      return 'used';
    case 'done':
      if (step.kind === 'sniff') { this.next(); return 'used'; }
      if (step.kind === 'valves') Object.keys(this.open).forEach(function (id) { self.valve(id, false, at); });
      if (step.kind === 'top-up' && this.waterOn) this.water(false, at);
      return answer();
    default:
      return answer();
  }
};

P.rinseAgain = function (at) {
  var self = this, rinse = this.script.rinses.filter(function (r) { return self.emptied(r.tank); })[0];
  if (!rinse || this.roundsOf(rinse.loop) >= MOST_ROUNDS) return 'stale';
  this.script.tanks.forEach(function (t) { if (t.role === 'gray') self.valve(t.id, false, at); });
  var first = 0;
  while (this.script.steps[first].loop !== rinse.loop) first++;
  this.goTo(first, this.roundsOf(rinse.loop) + 1);
  return 'used';
};

P.mayOpen = function (tank) {
  var self = this, role = this.roleOf(tank);
  return this.script.tanks.every(function (t) { return t.id === tank || t.role === role || !self.isOpen(t.id); });
};

P.litres = function (tap, at) {
  var litres = number(tap.said.litres);
  if (litres === null) return;
  var here = this.step().id + '#' + this.round;
  var key = tap.step === this.step().id ? here : this.fillOf || here;
  if (!this.records[key]) this.fresh(key).started = at;
  this.records[key].litres = litres;
};

P.valve = function (tank, opened, at) {
  if (this.isOpen(tank) === opened) return;
  this.settle(at);
  if (opened) {
    if (tank === this.waterInto) this.hasFilled();
    this.open[tank] = true;
  } else delete this.open[tank];
  this.changes.push({ at: at, tank: tank, open: opened });
  this.resume(at);
};

P.end = function (closed, at) {
  if (this.endClosed === closed) return;
  this.settle(at);
  if (!closed) this.hasFilled();
  this.endClosed = closed;
  this.changes.push({ at: at, end: closed });
  this.resume(at);
};

P.hasFilled = function () {
  if (this.filled <= 0 || !this.fillOf) return;
  this.fresh(this.fillOf).filledSeconds = this.filled;
  this.filled = 0;
  this.fillOf = null;
};

P.water = function (on, at) {
  this.settle(at);
  this.waterOn = on;
  this.changes.push({ at: at, water: on, into: this.waterInto });
  this.resume(at);
  if (!on && this.fillOf && this.records[this.fillOf]) this.records[this.fillOf].filledSeconds = this.filled;
};

P.settle = function (at) {
  if (this.fillingSince !== null) this.filled += (at - this.fillingSince) / 1000;
  this.fillingSince = null;
};

P.resume = function (at) {
  if (this.waterOn && this.waterInto && this.isShut(this.waterInto)) this.fillingSince = at;
};

P.back = function () {
  if (this.position === 0 && this.round <= 1) return 'stale';
  var steps = this.script.steps, loop = this.step().loop;
  if (loop && this.round > 1 && (this.position === 0 || steps[this.position - 1].loop !== loop)) {
    var lastOf = this.position;
    while (lastOf + 1 < steps.length && steps[lastOf + 1].loop === loop) lastOf++;
    this.goTo(lastOf, this.round - 1);
    return 'used';
  }
  this.goTo(this.position - 1, null);
  return 'used';
};

P.leaveLoop = function () {
  var steps = this.script.steps, loop = this.step().loop, after = this.position + 1;
  while (loop && after < steps.length && steps[after].loop === loop) after++;
  this.goTo(this.onward(after), null);
};

P.next = function () {
  var steps = this.script.steps, loop = this.step().loop;
  if (this.position + 1 >= steps.length) return;
  var to = this.onward(this.position + 1);
  this.goTo(to, loop && steps[to].loop === loop ? this.round : null);
};

P.onward = function (from) {
  var steps = this.script.steps;
  while (from < steps.length - 1 && this.pointless(steps[from])) from++;
  return Math.min(from, steps.length - 1);
};

P.pointless = function (step) {
  var self = this, smells = this.answerOf('sniff') === 'fail';
  switch (step.kind) {
    case 'top-up':
      var cap = this.record('valves');
      return !!cap && cap.answer !== 'dry' && cap.said.drips !== undefined;
    case 'sniff': return this.script.tanks.some(function (t) { return t.role === 'black' && !self.emptied(t.id); });
    case 'dose': return !this.emptied(step.tank) || smells;
    case 'starter': case 'gray-care': return !this.emptied(step.tank);
    case 'drain': return smells && this.roleOf(step.tank) === 'gray' && this.answerOf(step.id) !== null;
    default: return !!step.loop && !this.emptied(step.tank);
  }
};

P.goTo = function (position, round) {
  var loop = this.script.steps[position].loop;
  this.position = position;
  this.round = !loop ? 0 : round === null ? Math.max(1, this.roundsOf(loop)) : round;
  if (loop) this.rounds[loop] = Math.max(this.roundsOf(loop), this.round);
};

export function runState(script, taps) {
  var state = new RunState(script);
  (taps || []).forEach(function (t) { state.apply(t); });
  return state;
}
