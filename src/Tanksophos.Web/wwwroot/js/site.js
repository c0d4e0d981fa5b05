// Sheets, keys and the reading editor. Everything that changes data is a plain form.
(function () {
  'use strict';

  function open(id) {
    var sheet = document.getElementById(id);
    if (sheet && !sheet.open) sheet.showModal();
  }

  document.addEventListener('click', function (event) {
    var opener = event.target.closest('[data-open]');
    if (opener) {
      var from = opener.closest('dialog');
      if (from) from.close();
      open(opener.dataset.open);
      return;
    }
    var closer = event.target.closest('[data-close]');
    if (closer) closer.closest('dialog').close();
    if (event.target instanceof HTMLDialogElement) event.target.close(); // a tap beside the sheet
    var theme = event.target.closest('[data-theme-switch]');
    if (theme) {
      var dark = document.documentElement.getAttribute('data-bs-theme') !== 'dark';
      document.documentElement.setAttribute('data-bs-theme', dark ? 'dark' : 'light');
      document.cookie = 'theme=' + (dark ? 'night' : 'day') + ';path=/;max-age=31536000;samesite=lax';
    }
  });

  document.addEventListener('change', function (event) {
    if (event.target.matches('[data-most]')) {
      var file = event.target.files[0];
      event.target.setCustomValidity(file && file.size > Number(event.target.dataset.most) ? event.target.dataset.mostWords : '');
      event.target.reportValidity();
    }
    if (event.target.matches('[data-submit-on-change]')) event.target.form.requestSubmit();
  });

  // One press, one entry: the button that was pressed is locked while the page is on its way.
  document.addEventListener('submit', function (event) {
    if (event.submitter && event.submitter.matches('[data-download]')) return; // the page stays
    if (event.target.dataset.sent) { event.preventDefault(); return; }
    event.target.dataset.sent = 'yes';
  });
  window.addEventListener('pageshow', function () {
    document.querySelectorAll('form[data-sent]').forEach(function (f) { delete f.dataset.sent; });
  });

  // What is typed about the rig is drawn by the page's own server a moment later: one drawing, wherever it is made.
  document.querySelectorAll('form[data-draws]').forEach(function (form) {
    var wait, asked = 0;
    form.addEventListener('input', function () {
      clearTimeout(wait);
      wait = setTimeout(function () {
        var mine = ++asked;
        fetch(form.dataset.draws, { method: 'POST', body: new FormData(form) }).then(function (answer) {
          return answer.status === 200 ? answer.text() : '';
        }).then(function (html) {
          if (!html || mine !== asked) return;
          new DOMParser().parseFromString(html, 'text/html').querySelectorAll('[data-part]').forEach(function (part) {
            var there = document.querySelector('[data-part="' + CSS.escape(part.dataset.part) + '"]');
            if (there) there.replaceChildren.apply(there, Array.from(part.childNodes));
          });
        }, function () { /* the drawing stays as it was */ });
      }, 250);
    });
  });
  document.querySelectorAll('form[data-readonly=yes] input, form[data-readonly=yes] select').forEach(function (field) { field.disabled = true; });

  // A photo is made small enough on the device before it travels; what cannot be drawn goes as it is and is judged by the server.
  document.addEventListener('change', function (event) {
    var input = event.target;
    if (!input.matches('[data-shrink]') || !input.files[0] || !window.createImageBitmap) return;
    var file = input.files[0], most = 1600;
    var held = input.form.querySelector('button');
    held.disabled = true;
    createImageBitmap(file, { imageOrientation: 'from-image' }).then(function (picture) {
      var scale = Math.min(1, most / Math.max(picture.width, picture.height));
      if (scale === 1 && file.size < 1048576) return null;
      var canvas = document.createElement('canvas');
      canvas.width = Math.round(picture.width * scale);
      canvas.height = Math.round(picture.height * scale);
      canvas.getContext('2d').drawImage(picture, 0, 0, canvas.width, canvas.height);
      return new Promise(function (done) { canvas.toBlob(done, 'image/jpeg', 0.85); });
    }).then(function (blob) {
      if (!blob) return;
      var small = new DataTransfer();
      small.items.add(new File([blob], 'photo.jpg', { type: 'image/jpeg' }));
      input.files = small.files;
    }, function () { }).then(function () { held.disabled = false; });
  });

  // A large file on its way: how far it is, and what became of it. Without this script the form is sent as it is.
  document.addEventListener('submit', function (event) {
    var form = event.target;
    if (!form.matches('[data-upload]')) return;
    event.preventDefault();
    var bar = form.querySelector('[data-upload-bar]'), problem = form.querySelector('[data-upload-problem]'), button = form.querySelector('button');
    var request = new XMLHttpRequest();
    function no(text) {
      problem.textContent = text;
      problem.hidden = false;
      bar.hidden = true;
      button.disabled = false;
      delete form.dataset.sent;
    }
    request.upload.onprogress = function (sent) {
      if (!sent.lengthComputable) return;
      bar.querySelector('progress').value = sent.loaded / sent.total;
      bar.querySelector('[data-upload-said]').textContent = sent.loaded < sent.total ? Math.round(sent.loaded / sent.total * 100) + ' % sent' : 'Sent. Checking the file ...';
    };
    request.onload = function () {
      var said = {};
      try { said = JSON.parse(request.responseText); } catch (e) { /* not ours */ }
      if (said.go) { window.location.assign(said.go); return; }
      if (said.unreadable && !form.querySelector('[name=setAside]')) {
        var box = document.createElement('label'), tick = document.createElement('input'), words = document.createElement('span');
        box.className = 'chip';
        tick.type = 'checkbox';
        tick.name = 'setAside';
        tick.value = 'yes';
        words.textContent = "Restore anyway, and set aside what can't be read";
        box.append(tick, words);
        form.querySelector('[type=hidden]').after(box);
      }
      no(said.problem || 'The file was not accepted. Nothing was changed.');
    };
    request.onerror = function () { no('The connection broke. Nothing was changed. Try again.'); };
    problem.hidden = true;
    bar.hidden = false;
    button.disabled = true;
    request.open('POST', form.action);
    request.setRequestHeader('X-Part', 'restore');
    request.send(new FormData(form));
  });

  document.addEventListener('click', function (event) {
    if (event.target.matches('[data-select-all]')) event.target.select();
    if (event.target.matches('[data-print]')) window.print();
  });

  document.addEventListener('keydown', function (event) {
    if (event.ctrlKey || event.metaKey || event.altKey) return;
    if (event.target.matches('input:not([type=range]), textarea, select') || document.querySelector('dialog[open]')) return;
    var go = { t: '/', u: '/run', p: '/trip', f: '/find', s: '/sensors', e: '/treatments', l: '/logbook', g: '/rig', h: '/rules', i: '/import', a: '/account', n: '/write' }[event.key];
    if (go) { window.location.assign(go); return; }
    if (event.key === '?') { open('keys'); return; }
    var sheet = { r: 'sheet-first-tank', d: 'sheet-dump', w: 'sheet-water' }[event.key];
    if (sheet === 'sheet-first-tank') {
      var first = document.querySelector('[data-tank-card]');
      if (first) { open(first.dataset.open); event.preventDefault(); }
    } else if (sheet && document.getElementById(sheet)) { open(sheet); event.preventDefault(); }
  });

  document.addEventListener('DOMContentLoaded', function () {
    // Ribbon and the like start where "now" is.
    document.querySelectorAll('[data-now-at]').forEach(function (box) {
      box.scrollLeft = box.scrollWidth * Number(box.dataset.nowAt) - box.clientWidth * 0.6;
    });
    // While older entries are worked out, the page says how far it is, and shows the result when nobody is in the middle of something.
    var working = document.querySelector('[data-working]');
    if (working) {
      var ask = function () {
        fetch(working.dataset.working).then(function (answer) { return answer.json(); }).then(function (said) {
          if (said.share === null) {
            if (!document.querySelector('dialog[open]')) window.location.reload();
            return;
          }
          working.querySelector('progress').value = said.share;
          setTimeout(ask, 1500);
        }, function () { setTimeout(ask, 5000); });
      };
      setTimeout(ask, 1500);
    }
    var alert = document.querySelector('[data-open-at-start]');
    if (alert) open(alert.dataset.openAtStart);
  });

  document.addEventListener('alpine:init', function () {
    // The drawing of one tank as a form: tap the lamps, or tap where the liquid seems to stand.
    window.Alpine.data('reading', function () {
      return {
        lit: [], via: 'panel', fraction: 0.5, percent: 0, top: 0, bottom: 1, monitor: 'none', named: {},
        init: function () {
          var d = this.$root.dataset;
          this.monitor = d.monitor;
          this.lit = d.lit ? d.lit.split(' ') : [];
          this.named = JSON.parse(d.labels);
          this.fraction = Number(d.fraction);
          this.percent = Number(d.percent);
          this.top = Number(d.top);
          this.bottom = Number(d.bottom);
          this.via = d.monitor === 'none' ? 'sight' : 'panel';
        },
        toggle: function (event) {
          var probe = event.currentTarget.dataset.probe;
          this.via = 'panel';
          this.lit = this.lit.includes(probe) ? this.lit.filter(function (p) { return p !== probe; }) : this.lit.concat([probe]);
        },
        stud: function (probe) { return this.lit.includes(probe) ? 'stud is-lit' : 'stud'; },
        checked: function (probe) { return this.lit.includes(probe) ? 'true' : 'false'; },
        look: function (event) {
          var svg = event.currentTarget.ownerSVGElement;
          var point = new DOMPoint(event.clientX, event.clientY).matrixTransform(svg.getScreenCTM().inverse());
          var share = (this.bottom - point.y) / (this.bottom - this.top);
          this.fraction = Math.round(Math.min(1, Math.max(0, share)) * 20) / 20;
          this.via = 'sight';
        },
        slide: function (event) { this.fraction = Number(event.target.value) / 100; this.via = 'sight'; },
        typePercent: function (event) { this.percent = Number(event.target.value); this.via = 'panel'; },
        get lookY() { return this.bottom - this.fraction * (this.bottom - this.top); },
        get lookClass() { return this.via === 'sight' ? 'look-line' : 'look-line is-off'; },
        get looked() { return Math.round(this.fraction * 100); },
        get lookedText() { return this.looked + ' %'; },
        get litText() { return this.lit.join(' '); },
        get save() {
          if (this.via === 'sight') return 'Save: I looked, about ' + this.looked + ' %';
          if (this.monitor === 'percent') return 'Save: panel shows ' + this.percent + ' %';
          var named = this.named;
          var words = Object.keys(named).filter(function (p) { return this.lit.includes(p); }, this).map(function (p) { return named[p]; });
          return words.length ? 'Save: ' + words.join(', ') + ' on' : 'Save: no lights on';
        }
      };
    });
  });
})();
