// The texts that scripts write, sent with the page; {name} is filled in.
const says = {};
for (const sent of document.querySelectorAll('script[data-says]')) Object.assign(says, JSON.parse(sent.textContent));

export default (key, fill = {}) => (says[key] ?? key).replace(/\{(\w+)\}/g, (_, name) => fill[name]);
