// The desk's own script: files are sent in pieces with progress, and a choice reads again. Without it forms do the same.
(() => {
  const piece = 4 * 1024 * 1024
  document.querySelectorAll('form[data-live]').forEach((form) => {
    form.addEventListener('change', (e) => { if (e.target.tagName === 'SELECT') form.requestSubmit ? form.requestSubmit() : form.submit() })
  })
  // what a plan can show follows what is typed; the field that is typed in stays
  const plan = document.getElementById('plan')
  if (plan) {
    plan.addEventListener('change', async () => {
      const typed = new URLSearchParams([...new FormData(plan)].filter(([name, value]) => value !== ''))
      const where = plan.action + '?' + typed
      const got = await fetch(where)
      const page = new DOMParser().parseFromString(await got.text(), 'text/html')
      document.getElementById('seen').replaceChildren(...page.getElementById('seen').childNodes)
      document.querySelectorAll('.plan label[for]').forEach((label) => {
        const other = page.querySelector('.plan label[for="' + CSS.escape(label.htmlFor) + '"]')
        label.querySelectorAll('.problem').forEach((e) => e.remove())
        label.classList.toggle('wrong', !!other && other.classList.contains('wrong'))
        if (other) other.querySelectorAll('.problem').forEach((e) => label.append(e))
      })
      history.replaceState(null, '', where)
    })
  }
  const form = document.getElementById('drop')
  if (!form) return
  document.querySelectorAll('.scripted').forEach((e) => { e.hidden = false })
  const bar = document.getElementById('sent')
  const problem = document.getElementById('problem')
  const base = location.pathname.replace(/[^/]*$/, '')
  const ask = async (where, body) => {
    for (let again = 0; ; again++) {
      try {
        const got = await fetch(base + where, { method: 'POST', body, headers: { Accept: 'application/json' } })
        const said = await got.json()
        if (said.problem) throw new Error(said.problem)
        return said
      } catch (e) {
        if (again > 4 || !(e instanceof TypeError)) throw e
        await new Promise((done) => setTimeout(done, 300 * 2 ** again))
      }
    }
  }
  const send = async (files) => {
    problem.textContent = ''
    bar.hidden = false
    const all = files.reduce((n, f) => n + f.file.size, 0)
    let before = 0
    try {
      const tray = (await ask('tray')).tray
      for (const { file, name } of files) {
        let at = 0
        do {
          const where = 'tray/' + tray + '/piece?name=' + encodeURIComponent(name) + '&at=' + at
          at = (await ask(where, file.slice(at, at + piece))).have
          bar.value = all ? (before + at) / all : 1
        } while (at < file.size)
        before += file.size
      }
      location.assign(base + 'tray/' + tray + '/read')
    } catch (e) {
      bar.hidden = true
      problem.textContent = e.message
    }
  }
  const named = (list) => Array.from(list, (file) => ({ file, name: file.webkitRelativePath || file.name }))
  form.addEventListener('submit', (e) => {
    const chosen = [...named(form.elements.files.files), ...named(document.getElementById('folder').files)]
    if (!chosen.length) return
    e.preventDefault()
    send(chosen)
  })
  // all files of what was dropped, folders with what lies in them
  const inside = async (entry, before) => {
    if (entry.isFile) return [{ file: await new Promise((yes, no) => entry.file(yes, no)), name: before + entry.name }]
    const reader = entry.createReader()
    const found = []
    for (;;) {
      const some = await new Promise((yes, no) => reader.readEntries(yes, no))
      if (!some.length) break
      found.push(...some)
    }
    const each = await Promise.all(found.map((one) => inside(one, before + entry.name + '/')))
    return each.flat()
  }
  const over = (on) => form.classList.toggle('over', on)
  document.addEventListener('dragover', (e) => { e.preventDefault(); over(true) })
  document.addEventListener('dragleave', () => over(false))
  document.addEventListener('drop', async (e) => {
    e.preventDefault()
    over(false)
    const entries = Array.from(e.dataTransfer.items || [], (i) => i.webkitGetAsEntry && i.webkitGetAsEntry()).filter(Boolean)
    const files = entries.length ? (await Promise.all(entries.map((one) => inside(one, '')))).flat() : named(e.dataTransfer.files)
    if (files.length) send(files)
  })
})()
