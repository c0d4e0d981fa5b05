// Runs before the first paint: the person's choice, else the device's, and the device's time zone for the server.
(function () {
  'use strict';
  var root = document.documentElement;
  var choice = root.dataset.theme;
  var dark = choice === 'night' || (choice !== 'day' && window.matchMedia('(prefers-color-scheme: dark)').matches);
  root.dataset.script = 'yes';
  root.setAttribute('data-bs-theme', dark ? 'dark' : 'light');
  try {
    var zone = Intl.DateTimeFormat().resolvedOptions().timeZone;
    if (zone) document.cookie = 'zone=' + encodeURIComponent(zone) + ';path=/;max-age=31536000;samesite=lax';
  } catch (e) { /* an old browser: the server falls back to its own zone */ }
})();
