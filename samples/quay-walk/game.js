// A small game round a story of Paper Compass. It uses the published runtime and nothing else of the project: what the
// story knows is in the bundle, what the quay looks like is here.

import { loadBundle } from './runtime/index.js'
import { joinDesk } from './runtime/live.js'

const element = (id) => document.getElementById(id)
const make = (tag, text, className) => {
  const made = document.createElement(tag)
  if (text !== undefined) made.textContent = text
  if (className !== undefined) made.className = className
  return made
}

// The story --------------------------------------------------------------------------------------------------------

const story = loadBundle(await (await fetch('story.bundle.json')).text())
const has = (id) => story.begin().ledger[id] !== undefined
// what the game knows of earlier times is given before the story begins
const before = localStorage.getItem('quay-walk crossed') === 'yes'
const game = story.begin({ seed: 7, given: has('crossed_before') ? { crossed_before: before } : {} })

// The tide clock ---------------------------------------------------------------------------------------------------

/** Seconds in which the hand goes round once, and the part of the way on which there is fog. */
const ROUND = Number(new URLSearchParams(location.search).get('round') ?? 60)
const FOG = [0.55, 0.8]
const started = performance.now()
const turned = () => ((performance.now() - started) / 1000 / ROUND) % 1

/** The weather is the game's own: it gives it to the story whenever it turns. */
function giveWeather() {
  const now = turned()
  const fog = now > FOG[0] && now < FOG[1]
  element('weather').textContent = fog ? 'Fog on the flats' : 'Clear'
  const { status, ledger } = game
  if (ledger.fog === undefined || ledger.fog === fog || status === 'endless' || status === 'nowhere') return
  game.give({ fog })
  show()
}

function drawClock() {
  const pen = element('clock').getContext('2d')
  pen.clearRect(0, 0, 120, 120)
  const arc = (from, to, colour, width) => {
    pen.beginPath()
    pen.arc(60, 60, 48, (from - 0.25) * 2 * Math.PI, (to - 0.25) * 2 * Math.PI)
    pen.strokeStyle = colour
    pen.lineWidth = width
    pen.stroke()
  }
  arc(0, 1, '#d6cab5', 10)
  arc(FOG[0], FOG[1], '#8d8271', 10)
  const angle = (turned() - 0.25) * 2 * Math.PI
  pen.beginPath()
  pen.moveTo(60, 60)
  pen.lineTo(60 + 44 * Math.cos(angle), 60 + 44 * Math.sin(angle))
  pen.strokeStyle = '#b8341a'
  pen.lineWidth = 3
  pen.stroke()
}

// The quay ---------------------------------------------------------------------------------------------------------

const player = { x: 360, y: 300 }
const held = new Set()
/** What can be walked up to: an encounter where its person stands, any other choice on a post. */
let spots = []
/** Who was about last: they stay to be seen while one talks. */
let about = []

function placeSpots() {
  const { status, place, beat, choices } = game
  // only where one can walk about; a conversation is led below
  const open = status === 'choice' && place === beat ? choices.filter((choice) => choice.open) : []
  const people = open.filter((choice) => choice.who !== undefined)
  const posts = open.filter((choice) => choice.who === undefined)
  spots = [
    ...people.map((choice, at) => ({ choice, x: ((at + 1) * 720) / (people.length + 1), y: 170 + 40 * (at % 2), name: choice.name })),
    ...posts.map((choice, at) => ({ choice, x: ((at + 1) * 720) / (posts.length + 1), y: 390, name: choice.text })),
  ]
  if (spots.length > 0) about = spots
}

/** As close as this one can begin, in pixels. */
const REACH = 60

/** The nearest spot within reach. */
const near = () =>
  spots
    .map((spot) => ({ spot, away: Math.hypot(spot.x - player.x, spot.y - player.y) }))
    .filter(({ away }) => away < REACH)
    .sort((a, b) => a.away - b.away)[0]?.spot

function drawQuay() {
  const pen = element('quay').getContext('2d')
  pen.fillStyle = '#bccfcd'
  pen.fillRect(0, 0, 720, 110)
  pen.fillStyle = '#e3d6bd'
  pen.fillRect(0, 110, 720, 330)
  pen.strokeStyle = '#c9b994'
  for (let x = 0; x < 720; x += 48) {
    pen.beginPath()
    pen.moveTo(x, 110)
    pen.lineTo(x, 440)
    pen.stroke()
  }
  pen.textAlign = 'center'
  pen.font = '15px Georgia'
  const close = near()
  pen.globalAlpha = spots.length > 0 ? 1 : 0.35
  for (const spot of about) {
    const isNear = close === spot
    pen.fillStyle = spot.choice.who === undefined ? '#8a6a3a' : '#3c4a63'
    if (spot.choice.who === undefined) pen.fillRect(spot.x - 4, spot.y - 22, 8, 24)
    else {
      pen.beginPath()
      pen.arc(spot.x, spot.y, 13, 0, 2 * Math.PI)
      pen.fill()
    }
    pen.fillStyle = isNear ? '#b8341a' : '#29241f'
    pen.fillText(spot.name, Math.min(640, Math.max(80, spot.x)), spot.y + 30, 170)
    if (isNear) pen.fillText('Enter', spot.x, spot.y - 28)
  }
  pen.globalAlpha = 1
  pen.fillStyle = '#b8341a'
  pen.beginPath()
  pen.arc(player.x, player.y, 10, 0, 2 * Math.PI)
  pen.fill()
  if (game.ledger.fog === true) {
    pen.fillStyle = 'rgb(230 230 226 / 0.55)'
    pen.fillRect(0, 0, 720, 440)
  }
}

/** Pixels a second. */
const SPEED = 156
const WAYS = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] }

let walked = performance.now()

/** Walks on to `now`, in milliseconds: machines draw at their own pace, and a key can be up again before the next frame. */
function walkTo(now) {
  const step = (SPEED * Math.max(0, now - walked)) / 1000
  walked = Math.max(walked, now)
  for (const key of held) {
    const [x, y] = WAYS[key]
    player.x = Math.min(708, Math.max(12, player.x + x * step))
    player.y = Math.min(428, Math.max(122, player.y + y * step))
  }
  // for those who do not see the picture
  const close = near()
  const said = close === undefined ? '' : `Enter: ${close.name}`
  if (element('quay').ariaDescription !== said) element('quay').ariaDescription = said
}

element('quay').addEventListener('keydown', (event) => {
  if (event.key in WAYS) {
    walkTo(event.timeStamp)
    held.add(event.key)
    event.preventDefault()
  } else if (event.key === 'Enter') {
    // the focus goes to what is said, and this key is not meant for that
    event.preventDefault()
    const close = near()
    if (close !== undefined) take(close.choice)
  }
})
window.addEventListener('keyup', (event) => {
  walkTo(event.timeStamp)
  held.delete(event.key)
})
window.addEventListener('blur', () => held.clear())

// What is said -----------------------------------------------------------------------------------------------------

function take(choice) {
  game.choose(choice.id)
  show(true)
}

/** The story as it rests now: what was said, what can be done, what is carried. `moves`: the focus goes along. */
function show(moves = false) {
  placeSpots()
  const talk = element('talk')
  talk.replaceChildren()
  for (const { text, name, manner } of game.lines) {
    const line = make('p')
    if (name !== undefined && manner === 'speech') line.append(make('span', name, 'who'))
    line.append(text)
    talk.append(line)
  }
  const isWalking = spots.length > 0
  if (game.status === 'choice' && !isWalking)
    for (const choice of game.choices) {
      const button = make('button', choice.text)
      button.disabled = !choice.open
      button.addEventListener('click', () => take(choice))
      talk.append(button)
    }
  if (game.prompt !== undefined) {
    const form = make('form')
    const field = make('input')
    field.setAttribute('aria-label', game.prompt.text)
    field.placeholder = game.prompt.default ?? ''
    form.append(make('p', game.prompt.text), field, make('button', 'Write it'))
    form.addEventListener('submit', (event) => {
      event.preventDefault()
      if (field.value.trim() === '' && game.prompt.default === undefined) return
      game.say(field.value)
      show(true)
    })
    talk.append(form)
  }
  if (game.status === 'ended') {
    if (game.ending.id === 'across') localStorage.setItem('quay-walk crossed', 'yes')
    talk.append(make('p', `The end: ${game.ending.name}`))
  }
  element('bag').replaceChildren(...game.bag.map(({ name, count }) => make('li', count === 1 ? name : `${name} × ${count}`)))
  element('journal').replaceChildren(...game.journal.map(({ name, stageName, text }) => make('p', `${name}: ${text ?? stageName}`)))
  if (!moves) return
  if (isWalking) element('quay').focus()
  else talk.querySelector('input, button')?.focus()
}

// what was said is said otherwise when the Desk changes it
game.on('revised', () => show())

// The line to the Desk ---------------------------------------------------------------------------------------------

const asked = new URLSearchParams(location.search)
if (asked.has('key'))
  joinDesk(game, {
    name: asked.get('name') ?? 'Quay walk',
    key: asked.get('key'),
    url: asked.get('desk') ?? 'ws://127.0.0.1:3000/live',
    onEvent: (event, message) => {
      element('line').textContent = message
      if (event === 'changed' || event === 'sent' || event === 'joined') show()
    },
  })
else element('line').textContent = 'Not on the line: open it with ?key=… from the Export view.'

// Round and round --------------------------------------------------------------------------------------------------

show(true)
function frame(now = performance.now()) {
  walkTo(now)
  drawQuay()
  drawClock()
  requestAnimationFrame(frame)
}
frame()
setInterval(giveWeather, 250)
