// Where a run stands, from its steps and what was pressed, so that the page can go on while the connection is lost. What a press may do and does comes with
// the page as the core's own rules; here stands how each deed is done. A test plays thousands of presses through both and compares.

function RunState(script, rules) {
  this.script = script;
  this.rules = rules;
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

P.number = function (text) {
  return /^\d+(\.\d*)?$|^\.\d+$/.test(text || '') && Number(text) < this.rules.maxLitres ? Number(text) : null;
};
// A step that went on longer was forgotten, not timed.
P.timed = function (record) {
  if (record.started === null || record.stopped === null) return null;
  var seconds = (record.stopped - record.started) / 1000;
  return seconds <= this.rules.longestSeconds ? seconds : null;
};

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
  return r.answer === 'slow' || !!(step && step.slowSeconds && this.timed(r) > step.slowSeconds);
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
    if (fill.kind === 'fill' && water && water.filledSeconds > 0 && water.filledSeconds <= this.rules.longestSeconds) seconds = Math.round(water.filledSeconds);
    else if ((fill.kind === 'open-rinse' || fill.kind === 'flood') && water && this.timed(water) !== null) seconds = Math.round(this.timed(water));
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
  var cycles = this.cycles(rinse), left = this.leftL(rinse), little = this.rules.littleWater, n = 0;
  if (cycles.length === 0 || cycles[cycles.length - 1].end === null) return 'look';
  for (var i = cycles.length - 1; i >= 0 && clean(cycles[i]); i--) n++;
  if (n >= rinse.need) return 'clean';
  var rinses = cycles.reduce(function (sum, c) { return sum + (c.litres !== null && rinse.perCycleL > 0 ? Math.min(1, c.litres / (little * rinse.perCycleL)) : 1); }, 0);
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

function fits(rule, step) { return !rule.in.length || rule.in.includes(step.kind); }

P.press = function (tap, at) {
  var self = this, step = this.step();
  var rule = this.rules.rules.filter(function (r) { return (!r.presses.length || r.presses.includes(tap.press)) && fits(r, step); })[0];
  var refusal = rule.unless.filter(function (u) { return self.is(u.when, step); })[0];
  if (refusal) return refusal.fate;
  rule.do.forEach(function (deed) { deeds[deed](self, self.step(), tap, at); });
  return 'used';
};

P.pointless = function (step) {
  var self = this;
  return this.rules.pointless.filter(function (p) { return fits(p, step); })[0].when.some(function (test) { return self.is(test, step); });
};

P.is = function (test, step) { return tests[test](this, step, this.record(step.id, this.round)); };
P.grays = function () { return this.script.tanks.filter(function (t) { return t.role === 'gray'; }).map(function (t) { return t.id; }); };
P.rinsable = function () { var self = this; return this.script.rinses.filter(function (r) { return self.emptied(r.tank); })[0]; };

var tests = {
  'not-started': function (s, step, r) { return !r || r.started === null; },
  'not-flooding': function (s, step, r) { return !r || r.started === null || r.stopped !== null; },
  'valve-open': function (s, step) { return s.isOpen(step.tank); },
  'may-not-open': function (s, step) { return !s.isOpen(step.tank) && !s.mayOpen(step.tank); },
  'may-not-open-below': function (s, step) { return !!step.behindEnd && !s.mayOpen(step.tank); },
  'kept': function (s, step) { return !s.emptied(step.tank); },
  'kept-in-rinse': function (s, step) { return !!step.loop && !s.emptied(step.tank); },
  'any-black-kept': function (s) { return s.script.tanks.some(function (t) { return t.role === 'black' && !s.emptied(t.id); }); },
  'limit-refused': function (s, step) { var limit = s.limitOf(step); return !!limit && !!limit.refused; },
  'water-on': function (s) { return s.waterOn; },
  'water-off': function (s) { return !s.waterOn; },
  'end-not-closed': function (s, step) { return !!step.behindEnd && !s.endClosed; },
  'flooded': function (s) { return s.endClosed && s.isOpen(s.script.floods); },
  'gray-open': function (s) { return s.grays().some(function (id) { return s.isOpen(id); }); },
  'no-rinse-left': function (s) { var rinse = s.rinsable(); return !rinse || s.roundsOf(rinse.loop) >= s.rules.maxCycles; },
  'drips': function (s) { var cap = s.record('valves'); return !!cap && cap.answer !== 'dry' && cap.said.drips !== undefined; },
  'smells': function (s) { return s.answerOf('sniff') === 'fail'; },
  'drained-before-smell': function (s, step) { return tests.smells(s) && s.roleOf(step.tank) === 'gray' && s.answerOf(step.id) !== null; },
};

function here(s) { return s.step().id + '#' + s.round; }
function record(s) { return s.fresh(here(s)); }

var deeds = {
  'close-all': function (s, step, tap, at) { Object.keys(s.open).forEach(function (id) { s.valve(id, false, at); }); },
  'close-grays': function (s, step, tap, at) { s.grays().forEach(function (id) { s.valve(id, false, at); }); },
  'open-valve': function (s, step, tap, at) { s.valve(step.tank, true, at); },
  'close-valve': function (s, step, tap, at) { s.valve(step.tank, false, at); },
  'close-if-gray': function (s, step, tap, at) { if (s.roleOf(step.tank) === 'gray') s.valve(step.tank, false, at); },
  'close-in-rinse': function (s, step, tap, at) { if (step.loop) s.valve(step.tank, false, at); },
  'open-flooding': function (s, step, tap, at) { s.valve(s.script.floods, true, at); },
  'shut-for-fill': function (s, step, tap, at) {
    s.valve(step.tank, !!step.behindEnd, at);
    if (step.behindEnd) s.end(true, at);
  },
  'open-end': function (s, step, tap, at) { s.end(false, at); },
  'close-end': function (s, step, tap, at) { s.end(true, at); },
  'fill-anew': function (s, step) { s.waterInto = step.tank; s.fillOf = here(s); },
  'fill-on': function (s, step) {
    s.waterInto = step.tank;
    if (s.isShut(step.tank) && s.fillOf === null) s.fillOf = here(s);
  },
  'water-on': function (s, step, tap, at) { s.water(true, at); },
  'water-off': function (s, step, tap, at) { if (s.waterOn) s.water(false, at); },
  'start-anew': function (s, step, tap, at) { var r = record(s); r.started = at; r.stopped = null; r.answer = null; },
  'start-once': function (s, step, tap, at) { var r = record(s); if (r.started === null) r.started = at; },
  'stop': function (s, step, tap, at) { record(s).stopped = at; },
  'stop-once': function (s, step, tap, at) { var r = record(s); if (r.stopped === null) r.stopped = at; },
  'litres': function (s, step, tap, at) { s.litres(tap, at); },
  'pour': function (s, step, tap, at) {
    var poured = s.number(tap.said.litres) || 0, r = record(s);
    r.litres = Math.min(s.rules.maxLitres, r.litres + poured);
    s.changes.push({ at: at, tank: step.tank, add: poured });
  },
  'note-drip': function (s) { record(s).said.drips = 'yes'; },
  'draw-empty': function (s, step, tap, at) { s.changes.push({ at: at, tank: step.tank, empty: true }); },
  'draw-kept': function (s, step, tap, at) { s.changes.push({ at: at, tank: step.tank, kept: true }); },
  'answer': function (s, step, tap, at) {
    var r = record(s);
    r.answer = tap.press;
    r.answeredAt = at;
    Object.keys(tap.said).forEach(function (f) { r.said[f] = tap.said[f]; });
  },
  'next': function (s) { s.next(); },
  'leave-rinse': function (s) { s.leaveLoop(); },
  'next-cycle': function (s, step) { if (s.round < s.rules.maxCycles) s.cycle(step.loop, s.round + 1); },
  'rinse-again': function (s) { var loop = s.rinsable().loop; s.cycle(loop, s.roundsOf(loop) + 1); },
  'finish': function (s, step, tap, at) { s.finished = true; s.endedAt = at; },
};

P.cycle = function (loop, round) {
  var first = 0;
  while (this.script.steps[first].loop !== loop) first++;
  this.goTo(first, round);
};

P.mayOpen = function (tank) {
  var self = this, role = this.roleOf(tank);
  return this.script.tanks.every(function (t) { return t.id === tank || t.role === role || !self.isOpen(t.id); });
};

P.litres = function (tap, at) {
  var litres = this.number(tap.said.litres);
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

P.goTo = function (position, round) {
  var loop = this.script.steps[position].loop;
  this.position = position;
  this.round = !loop ? 0 : round === null ? Math.max(1, this.roundsOf(loop)) : round;
  if (loop) this.rounds[loop] = Math.max(this.roundsOf(loop), this.round);
};

export function runState(script, rules, taps) {
  var state = new RunState(script, rules);
  (taps || []).forEach(function (t) { state.apply(t); });
  return state;
}
