// Shows the rig every second, and turns its knobs.
import Alpine from './lib/alpine-csp.js';

const fahrenheit = c => `${Math.round(c * 9 / 5 + 32)} F`;

Alpine.data('bench', () => ({
  now: '', air: '', bay: '', volts: '', meter: '', tanks: [], devices: [], mails: [], knobs: {},
  init() {
    this.look();
    setInterval(() => this.look(), 1000);
  },
  async look() {
    try {
      const state = await (await fetch('/state')).json();
      Object.assign(this, { now: state.now, tanks: state.tanks, devices: state.devices, mails: state.mails, knobs: state.knobs });
      [this.air, this.bay, this.volts, this.meter] = [fahrenheit(state.airC), fahrenheit(state.bayC), `${state.volts} V`, `${state.meterGal} gal`];
    } catch { this.now = 'not answering'; }
  },
  async turn(name) {
    await fetch(`/knob?name=${encodeURIComponent(name)}&on=${!this.knobs[name]}`, { method: 'POST', headers: { 'X-Knob': '1' } });
    await this.look();
  },
  get someMail() { return this.mails.length > 0; },
  pressed(name) { return this.knobs[name] ? 'true' : 'false'; },
  topOf(tank) { return 60 - 60 * tank.share; },
  heightOf(tank) { return 60 * tank.share; },
  percentOf(tank) { return `${Math.round(100 * tank.share)} %`; },
  valveOf(tank) { return `valve:${tank.id}`; },
  valveWord(tank) { return this.knobs[`valve:${tank.id}`] ? 'Valve open: close it' : 'Open the valve'; },
  foulOf(probe) { return `foul:${probe.id}`; },
  foulWord(probe) { return this.knobs[`foul:${probe.id}`] ? `Probe ${probe.label} fouled: clean it` : `Foul probe ${probe.label}`; },
  plugOf(device) { return `plug:${device.name}`; },
  plugWord(device) { return device.plugged ? 'Unplug' : 'Plug in'; },
  saidBy(device) { return `${device.sent} sent. ${device.said}`; },
}));
window.Alpine = Alpine;
Alpine.start();
