// Brings the parts that a piece of page uses, each once: an Alpine component in a file of its own, named like the part.
import Alpine from '../../lib/alpine/alpine-csp.js';

const there = new Map();

export function load(root) {
  const names = new Set([...root.querySelectorAll('[x-data]')].map(e => e.getAttribute('x-data')));
  return Promise.all([...names].map(name => {
    if (!there.has(name)) there.set(name, import(`./${name}.js`).then(part => Alpine.data(name, part.default)));
    return there.get(name);
  }));
}
