// Without a connection: the shell, and the last state of Today, of the trip and of the run at hand. What is asked of the server is always asked there first.
const home = self.location.pathname.replace(/\/sw\.js$/, ''), within = url => url.pathname.startsWith(home) ? url.pathname.slice(home.length) : '';
const shell = 'shell-1', pages = 'pages-1';
const statics = /^\/(css|js|lib|icons)\/|^\/(mark\.svg|manifest\.webmanifest)$/;
const kept = /^\/$|^\/run(\/\d+)?$|^\/trip$/;
const offline = `${home}/offline`;
// What a page brings only when it is pressed has to be there before. A test looks that none is missing.
const parts = ['alarm', 'bell', 'board', 'glass', 'home', 'live', 'loader', 'log', 'outbox', 'page', 'photo', 'pictures', 'pile', 'practice', 'reading', 'redraw', 'ribbon', 'rig', 'run', 'run-state', 'setup', 'stopwatch', 'upload', 'words', 'working'];

self.addEventListener('install', event => {
  event.waitUntil(caches.open(shell).then(c => c.addAll([new Request(offline, { credentials: 'omit' }), ...parts.map(p => `${home}/js/parts/${p}.js`)])).then(() => self.skipWaiting()));
});

self.addEventListener('activate', event => {
  event.waitUntil(caches.keys().then(names => Promise.all(names.filter(n => n !== shell && n !== pages).map(n => caches.delete(n)))).then(() => self.clients.claim()));
});

self.addEventListener('fetch', event => {
  const { request } = event, url = new URL(request.url);
  if (request.method !== 'GET' || url.origin !== self.location.origin) return;
  if (statics.test(within(url))) event.respondWith(asset(request));
  else if (request.mode === 'navigate') event.respondWith(page(request, url));
});

async function asset(request) {
  const cache = await caches.open(shell);
  try {
    const answer = await fetch(request);
    if (answer.ok) await cache.put(request, answer.clone());
    return answer;
  } catch (e) {
    const there = await cache.match(request, { ignoreSearch: true });
    if (there) return there;
    throw e;
  }
}

// A run is reached by a press, which is no page that could be kept on its way: the run asks for it.
self.addEventListener('message', event => {
  const path = event.data?.keep;
  if (path?.startsWith(home) && kept.test(path.slice(home.length))) event.waitUntil(fetch(path, { redirect: 'manual' }).then(answer => answer.ok && keep(path, answer), () => { }));
});

async function keep(path, answer) {
  const html = (await answer.text()).replace('<body ', `<body data-kept-at="${Date.now()}" `);
  await (await caches.open(pages)).put(path, new Response(html, { headers: answer.headers }));
}

// What belongs to a person goes with the person: the sign-in empties what was kept. A gas alarm stands in the place of all of it.
async function page(request, url) {
  if (within(url) === '/sign-in') await caches.delete(pages);
  const cache = await caches.open(pages);
  try {
    const answer = await fetch(request), alarm = within(url) === '/alarm';
    if (alarm) for (const old of await cache.keys()) await cache.delete(old);
    if (answer.ok && (alarm || kept.test(within(url)))) await keep(alarm ? `${home}/` : url.pathname, answer.clone());
    else if (answer.type === 'opaqueredirect') await cache.delete(url.pathname); // it leads elsewhere now
    return answer;
  } catch (e) {
    const there = await cache.match(url.pathname) ?? await (await caches.open(shell)).match(offline);
    if (there) return there;
    throw e;
  }
}
