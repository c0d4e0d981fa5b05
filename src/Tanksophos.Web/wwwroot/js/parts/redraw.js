// What is being typed, drawn by the page's own server: one drawing, wherever it is made. The last answer counts; one that cannot be drawn changes nothing.
export default function redraw(form) {
  let asked = 0, wait = null;
  const draw = async held => {
    const mine = ++asked, focus = document.activeElement?.dataset?.field;
    try {
      const answer = await fetch(form.dataset.draws, { method: 'POST', body: new FormData(form) });
      const html = answer.status === 200 ? await answer.text() : '';
      if (!html || mine !== asked || held?.()) return;
      for (const part of new DOMParser().parseFromString(html, 'text/html').querySelectorAll('[data-part]')) {
        document.querySelector(`[data-part="${CSS.escape(part.dataset.part)}"]`)?.replaceChildren(...part.childNodes);
      }
      if (focus) form.querySelector(`[data-field="${CSS.escape(focus)}"]`)?.focus();
    } catch { /* the drawing stays as it was */ }
  };
  return {
    now: draw,
    soon(held) {
      clearTimeout(wait);
      wait = setTimeout(() => draw(held), 250);
    },
  };
}
