// What is logged while there is no connection waits on this device, visibly, and is sent once: each entry carries an id of its own, and the moment of its press.
import word from './words.js';
import { home } from './home.js';

const store = 'outbox', sheet = 'log-sheet';
const kinds = /^\?handler=(Reading|Dump|Water|Valve|Dose|People|Stay)$/i;
const ahead = Number(document.body.dataset.now) - Number(document.body.dataset.keptAt ?? Date.now()); // the server's clock, as far as the device's is off

function read() {
  try { return JSON.parse(localStorage.getItem(store)) ?? []; } catch { return []; }
}
function write(items) {
  try {
    if (items.length) localStorage.setItem(store, JSON.stringify(items));
    else localStorage.removeItem(store);
  } catch { /* a browser without a store */ }
}
function moment() {
  const format = new Intl.DateTimeFormat('en-CA', { timeZone: document.body.dataset.zone, hourCycle: 'h23', year: 'numeric', month: '2-digit', day: '2-digit', hour: '2-digit', minute: '2-digit' });
  const p = Object.fromEntries(format.formatToParts(Date.now() + ahead).map(x => [x.type, x.value]));
  return `${p.year}-${p.month}-${p.day}T${p.hour}:${p.minute}`;
}
const mine = item => item.who === document.body.dataset.who;

export const count = () => read().filter(mine).length;
export const problem = () => read().filter(mine).find(i => i.problem)?.problem ?? '';
export const takes = form => form.method === 'post' && new URL(form.action).pathname === `${home}/` && kinds.test(new URL(form.action).search);

export function keep(form, submitter) {
  const fields = Object.fromEntries([...new FormData(form, submitter)].filter(([name]) => !name.startsWith('__RequestVerificationToken')));
  fields.id = `w${crypto.getRandomValues(new Uint32Array(4)).join('')}`.slice(0, 40);
  fields.at ||= moment();
  write([...read(), { who: document.body.dataset.who, action: new URL(form.action).search, fields }]);
}

// Sends what waits, one after the other; what is refused stays with the reason. Gives whether anything was sent.
export async function send() {
  let sent = false;
  for (const item of read().filter(mine)) {
    const page = await fetch(`${home}/log`, { headers: { 'X-Part': 'log' } });
    if (page.redirected || !page.ok) break;
    const token = new DOMParser().parseFromString(await page.text(), 'text/html').querySelector('[name=__RequestVerificationToken]').value;
    const answer = await fetch(`${home}/${item.action}`, { method: 'POST', body: new URLSearchParams({ ...item.fields, __RequestVerificationToken: token }) });
    if (new URL(answer.url).pathname === `${home}/sign-in`) break;
    const same = i => i.fields.id === item.fields.id;
    if (answer.ok) {
      write(read().filter(i => !same(i)));
      sent = true;
    } else if (answer.status < 500 && answer.status !== 429) {
      const said = new DOMParser().parseFromString(await answer.text(), 'text/html').querySelector('[data-problem]')?.textContent ?? word('not-accepted');
      write(read().map(i => same(i) ? { ...i, problem: said } : i));
    } else break;
  }
  return sent;
}

export function discard() { write(read().filter(i => !mine(i) || !i.problem)); }

// The sheet of the quick log, for when it cannot be fetched. It tells of the tanks, so it goes when somebody signs in.
export function rememberSheet(html) {
  const { who, rig } = document.body.dataset;
  try { localStorage.setItem(sheet, JSON.stringify({ who, rig, html })); } catch { /* it is only for convenience */ }
}
// Of this person and this rig only: a sheet of another rig would log there.
export function rememberedSheet() {
  try {
    const kept = JSON.parse(localStorage.getItem(sheet)), { who, rig } = document.body.dataset;
    return kept?.who === who && kept.rig === rig ? kept.html : null;
  } catch { return null; }
}
export function forgetSheet() {
  try { localStorage.removeItem(sheet); } catch { /* nothing was kept */ }
}
