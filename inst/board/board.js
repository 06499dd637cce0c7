// Asks the machine twice a second what is new, and puts it in place; sends what the tester says.
(function () {
  'use strict';
  const base = location.pathname.replace(/\/?$/, '/');
  const part = (id) => document.getElementById(id);
  let have = '';
  let lost = null;
  let shown = part('card').dataset.question || '';

  function contact(text) {
    part('contact').textContent = text;
    part('contact').hidden = !text;
  }

  function put(now) {
    for (const name of ['head', 'progress', 'latest', 'figure', 'warnings']) {
      if (part(name).innerHTML !== now[name]) part(name).innerHTML = now[name];
    }
    // a card that is being filled in stays as it is until another question is asked
    if (now.question !== shown || !now.question) {
      if (part('card').innerHTML !== now.card) part('card').innerHTML = now.card;
      shown = now.question;
      part('card').dataset.question = shown;
    }
  }

  async function look() {
    try {
      const reply = await fetch(base + 'now?have=' + have, {cache: 'no-store'});
      if (reply.status === 200) {
        const now = await reply.json();
        have = now.have;
        put(now);
      } else if (reply.status !== 204) {
        throw new Error(String(reply.status));
      }
      if (lost) { lost = null; contact(''); }
    } catch (error) {
      if (!lost) lost = new Date();
      contact('No contact with the board since ' + lost.toLocaleTimeString() + '; trying again.');
    }
  }

  async function send(where, body, type) {
    const reply = await fetch(base + where, {method: 'POST', headers: {'Content-Type': type}, body: body});
    if (!reply.ok) throw new Error(await reply.text());
    return reply.json();
  }

  // A net that fails for a moment (a phone that changes its cell) is no reason to ask a person. An answer to a
  // question counts once, however often it arrives, so it may be sent again; a mark may not.
  async function send_surely(where, body, type) {
    try {
      return await send(where, body, type);
    } catch (error) {
      if (!(error instanceof TypeError)) throw error;
      await new Promise((done) => setTimeout(done, 700));
      return send(where, body, type);
    }
  }

  function problem(text) {
    const place = part('problem');
    if (place) place.textContent = text;
  }

  async function answer(form, button) {
    const said = {};
    for (const [name, value] of new FormData(form)) if (typeof value === 'string' && name !== 'question') said[name] = value;
    if (button && button.name) said[button.name] = button.value;
    if (form.dataset.sure === 'yes') said.sure = 'yes';
    form.classList.add('sent');
    try {
      for (const field of form.querySelectorAll('input[type=file]')) {
        if (!field.files.length) {
          // none is chosen any more: one that was sent for this question before does not count
          if (field.name === 'log') await send_surely('back', '{}', 'application/json');
          continue;
        }
        const file = field.files[0];
        const kept = await send_surely(field.name + '?question=' + shown + '&name=' + encodeURIComponent(file.name),
          file, 'application/octet-stream');
        if (kept.problem) return problem(kept.problem);
      }
      const told = await send_surely('answer', JSON.stringify({question: shown, said: said}), 'application/json');
      if (told.state === 'refused') {
        problem(told.problem);
        // what is only far from the usual may be said a second time
        form.dataset.sure = told.sure ? 'yes' : '';
        const field = form.elements[told.field];
        if (field && field.focus) field.focus();
      } else if (told.state === 'past') {
        problem('This was answered already.');
      } else {
        problem('');
        have = '';
      }
    } catch (error) {
      problem('It could not be sent (' + error.message + '). Nothing is lost: try again.');
    } finally {
      form.classList.remove('sent');
      look();
    }
  }

  document.addEventListener('submit', (event) => {
    event.preventDefault();
    if (event.submitter && (event.submitter.dataset.mark || event.submitter.dataset.go)) return;
    if (!event.target.classList.contains('sent')) answer(event.target, event.submitter);
  });
  document.addEventListener('input', (event) => {
    const form = event.target.closest('form');
    if (form) form.dataset.sure = '';
  });
  document.addEventListener('click', async (event) => {
    const target = event.target.closest('button');
    if (!target) return;
    if (target.dataset.clear) {
      target.closest('form').elements[target.dataset.clear].value = '';
      problem('');
    } else if (target.dataset.go) {
      target.disabled = true;
      await send('go', '', 'application/json').catch(() => contact('It could not be sent.'));
      look();
    } else if (target.dataset.mark) {
      const told = await send('mark', JSON.stringify({word: target.dataset.mark, value: target.dataset.value}),
        'application/json').catch(() => ({problem: 'It could not be sent.'}));
      problem(told.problem || 'marked: ' + target.textContent);
    }
  });
  setInterval(look, 500);
  look();
}());
