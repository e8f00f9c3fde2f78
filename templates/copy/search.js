'use strict'
// The copy's own search: what is searched lies in parts beside it, and each is let go of once it is looked through.
const most = 200
const field = document.getElementById('words')
const state = document.getElementById('state')
const list = document.getElementById('found')
const plain = (text) => text.normalize('NFKD').replace(/\p{M}/gu, '').toLowerCase()
let wanted = []
let found = 0
let round = 0

function show([file, id, title, day, sender, text]) {
  const link = document.createElement('a')
  link.href = `pages/${file}#m${id}`
  link.textContent = `${title} · ${day}${sender === '' ? '' : ` · ${sender}`}`
  const words = document.createElement('div')
  const at = Math.max(0, plain(text).indexOf(wanted[0]) - 60)
  words.textContent = (at > 0 ? '…' : '') + text.slice(at, at + 240)
  words.dir = 'auto'
  const item = document.createElement('li')
  item.append(link, words)
  list.append(item)
}

// Called by each part.
globalThis.part = (rows) => {
  for (const row of rows) {
    const text = plain(`${row[4]} ${row[5]}`)
    if (found < most && wanted.every((word) => text.includes(word))) {
      found += 1
      show(row)
    }
  }
}

function look(part, mine) {
  if (mine !== round) return
  if (part > Number(document.body.dataset.parts) || found >= most) {
    state.textContent = found === 0 ? state.dataset.none : found >= most ? state.dataset.many : ''
    return
  }
  const script = document.createElement('script')
  script.src = `pages/search-${part}.js`
  script.onload = script.onerror = () => {
    script.remove()
    look(part + 1, mine)
  }
  document.body.append(script)
}

document.getElementById('search').addEventListener('submit', (event) => {
  event.preventDefault()
  round += 1
  wanted = plain(field.value).split(/\s+/).filter(Boolean)
  found = 0
  list.textContent = ''
  state.textContent = wanted.length === 0 ? '' : state.dataset.looking
  if (wanted.length > 0) look(1, round)
})
