// The glass test of paper: half a minute, computed from the moment it went into the water.
(function () {
  'use strict';
  document.querySelectorAll('[data-paper]').forEach(function (form) {
    var start = form.querySelector('[data-paper-start]'), clock = form.querySelector('[data-paper-clock]'), from = null;
    start.hidden = false;
    start.addEventListener('click', function () {
      from = performance.now();
      start.disabled = true;
      var timer = setInterval(function () {
        var left = Math.max(0, 30 - (performance.now() - from) / 1000);
        clock.textContent = left > 0 ? '0:' + String(Math.ceil(left)).padStart(2, '0') : 'Stir once. Is it pulp?';
        if (left > 0) return;
        clearInterval(timer);
        start.disabled = false;
      }, 200);
    });
  });
})();
