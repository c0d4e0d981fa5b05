// The trip's board: each change is sent at once and the board comes back with the new plan. Without this script every button is a plain form.
(function () {
  'use strict';
  var board = document.querySelector('[data-board]');

  document.querySelectorAll('dialog[data-open-now]').forEach(function (d) { d.showModal(); });
  if (!board) return;

  function kept(root) {
    return Array.from(root.querySelectorAll('details[open][id^=keep-]')).map(function (d) { return d.id; });
  }

  // What was open stays open, what had the focus keeps it, the ribbon stays where it was scrolled to.
  function show(html) {
    var open = kept(board), focus = document.activeElement && document.activeElement.id;
    var scroll = board.querySelector('[data-keep-scroll]');
    var left = scroll ? scroll.scrollLeft : 0;
    var fresh = document.activeElement && document.activeElement.closest('[data-fresh]');
    var parsed = new DOMParser().parseFromString(html, 'text/html');
    board.replaceChildren.apply(board, Array.from(parsed.body.childNodes));
    open.forEach(function (id) { var d = document.getElementById(id); if (d) d.open = true; });
    var again = fresh ? document.getElementById('add-name') : focus && document.getElementById(focus);
    if (again) again.focus();
    scroll = board.querySelector('[data-keep-scroll]');
    if (scroll) scroll.scrollLeft = left;
    board.removeAttribute('aria-busy');
  }

  function fail() {
    board.removeAttribute('aria-busy');
    var notice = document.createElement('div');
    notice.className = 'notice is-problem';
    notice.setAttribute('role', 'alert');
    notice.textContent = board.dataset.failed;
    board.prepend(notice);
  }

  // One change after the other, each made on what the one before it left: only other people's changes are in its way.
  var line = Promise.resolve(), pending = 0;

  function send(address, body) {
    var waits = pending > 0;
    pending++;
    board.setAttribute('aria-busy', 'true');
    line = line.then(function () {
      var form = board.querySelector('form[action*="seen="]'), now = form && /[?&]seen=(\d+)/.exec(form.getAttribute('action'));
      if (waits && now && !board.querySelector('[data-conflict]')) address = address.replace(/([?&]seen=)\d+/, '$1' + now[1]);
      return fetch(address, { method: 'POST', body: body, headers: { 'X-Part': 'board' } });
    }).then(function (answer) {
      if (answer.status !== 200 && answer.status !== 400 && answer.status !== 409) throw new Error();
      return answer.text();
    }).then(show).catch(fail).then(function () { pending--; });
  }

  document.addEventListener('submit', function (event) {
    var form = event.target;
    if (!board.contains(form) || form.method !== 'post' || !/[?&]trip=/.test(form.action) || /handler=Remove(&|$)|handler=(Restore|New|Feed|FeedOff|Import)/i.test(form.action)) return;
    event.preventDefault();
    event.stopImmediatePropagation();
    var body = new FormData(form, event.submitter);
    var sheet = form.closest('dialog');
    if (sheet) sheet.close();
    send(form.action, body);
  }, true);

  document.addEventListener('click', function (event) {
    var link = event.target.closest('[data-into]');
    if (!link) {
      var pin = event.target.closest('a.pin');
      if (pin) {
        var li = document.getElementById(pin.getAttribute('href').slice(1));
        if (li) { li.querySelector('details').open = true; li.scrollIntoView({ block: 'center' }); event.preventDefault(); }
      }
      return;
    }
    event.preventDefault();
    var place = document.getElementById(link.dataset.into);
    place.setAttribute('aria-busy', 'true');
    fetch(link.href).then(function (answer) { return answer.ok ? answer.text() : ''; }).then(function (html) {
      var parsed = new DOMParser().parseFromString(html, 'text/html');
      place.replaceChildren.apply(place, Array.from(parsed.body.childNodes));
      place.removeAttribute('aria-busy');
    }, fail);
  });

  // Stops on the ribbon: dragged into another order by their body, stretched by their edge.
  var drag = null;

  function units(svg) { return svg.viewBox.baseVal.width / svg.getBoundingClientRect().width; }

  document.addEventListener('pointerdown', function (event) {
    var block = event.target.closest('.stop-block[data-stop]');
    if (!block || event.button !== 0) return;
    var stretch = event.target.closest('.stretch, .grip') !== null;
    drag = { block: block, x: event.clientX, stretch: stretch, moved: 0, svg: block.ownerSVGElement, id: event.pointerId };
    if (event.pointerType === 'mouse' || stretch) event.preventDefault();
  });

  document.addEventListener('pointermove', function (event) {
    if (!drag || event.pointerId !== drag.id) return;
    drag.moved = (event.clientX - drag.x) * units(drag.svg);
    if (Math.abs(drag.moved) < 6) return;
    drag.block.classList.add('is-dragged');
    if (drag.stretch) {
      var body = drag.block.querySelector('.body');
      if (!drag.width) drag.width = Number(body.getAttribute('width'));
      body.setAttribute('width', Math.max(12, drag.width + drag.moved));
    } else {
      drag.block.setAttribute('transform', 'translate(' + drag.moved.toFixed(1) + ' 0)');
    }
  });

  function middle(block) {
    var body = block.querySelector('.body');
    return Number(body.getAttribute('x')) + Number(body.getAttribute('width')) / 2;
  }

  function formFor(handler, fields) {
    var form = board.querySelector('form[action*="trip="]');
    var body = new FormData();
    ['__RequestVerificationToken', '__rig'].forEach(function (name) { var field = form.querySelector('[name="' + name + '"]'); if (field) body.append(name, field.value); });
    Object.keys(fields).forEach(function (name) { body.append(name, fields[name]); });
    send(form.getAttribute('action').replace(/handler=[a-z]+/i, 'handler=' + handler), body);
  }

  document.addEventListener('pointerup', function (event) {
    if (!drag || event.pointerId !== drag.id) return;
    var d = drag;
    drag = null;
    d.block.classList.remove('is-dragged');
    if (Math.abs(d.moved) < 6) {
      var sheet = document.getElementById('sheet-stop-' + d.block.dataset.stop);
      if (sheet) sheet.showModal();
      return;
    }
    if (d.stretch) {
      var nights = Math.max(0, Number(d.block.dataset.nights) + Math.round(d.moved / Number(d.svg.dataset.day)));
      formFor('Stretch', { stop: d.block.dataset.stop, nights: nights });
      return;
    }
    var at = middle(d.block) + d.moved, to = 0, from = Number(d.block.dataset.index);
    var others = Array.from(d.svg.querySelectorAll('.stop-block[data-stop]')).filter(function (b) { return b !== d.block; });
    others.forEach(function (b) { if (middle(b) < at) to = Math.max(to, Number(b.dataset.index) + (Number(b.dataset.index) > from ? 0 : 1)); });
    d.block.removeAttribute('transform');
    // Those that are over keep their places.
    var least = Math.min.apply(null, others.concat([d.block]).map(function (b) { return Number(b.dataset.index); }));
    to = Math.max(to, least);
    if (to !== from) formFor('Move', { stop: d.block.dataset.stop, to: to });
  });

  document.addEventListener('pointercancel', function () {
    if (drag) { drag.block.removeAttribute('transform'); drag.block.classList.remove('is-dragged'); }
    drag = null;
  });
})();
