// A stopwatch for the bucket test: press when the water starts, press when the bucket is full.
(function () {
  'use strict';
  document.querySelectorAll('[data-stopwatch]').forEach(function (button) {
    var field = button.form.querySelector('[name=seconds]'), from = null, timer;
    button.hidden = false;
    button.addEventListener('click', function () {
      if (from === null) {
        from = performance.now();
        button.textContent = 'It is full';
        timer = setInterval(function () { field.value = ((performance.now() - from) / 1000).toFixed(0); }, 200);
        return;
      }
      clearInterval(timer);
      field.value = ((performance.now() - from) / 1000).toFixed(1);
      from = null;
      button.textContent = 'Start timer';
    });
  });
})();
