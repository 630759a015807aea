/**
 * A small game on a canvas. Levels, rules, wins and losses are the flow's: the game moves the player over the ground, tells the flow
 * what is touched and taken, and shows what the flow says.
 */
import { start } from '@crow-lane/runtime/play';
import game from './dist/streets.game.json';
import './game.css';

const size = 32;
const [place, message, street, buttons, told] = ['place', 'message', 'street', 'buttons', 'told'].map((id) =>
  document.getElementById(id)
);
const play = start(game);

/** Where the player stands, and the cells whose piece has been taken. */
let at = [0, 0];
let taken = new Set();
let timer;

const level = () => game.flow.places[play.place.id].plan && game.flow.places[play.place.id];
const key = ([x, y]) => `${x},${y}`;
const ground = (plan, [x, y]) => plan.rows[y]?.[x] ?? '#';
const pieceAt = (cell) =>
  Object.values(level().plan.things).find(
    ({ cells = [] }) => cells.some((each) => key(each) === key(cell)) && !taken.has(key(cell))
  )?.piece;

play.on('entered', ({ place: entered }) => {
  clearTimeout(timer);
  taken = new Set();
  // a player who arrives stands on the first cell of the spot that the flow has put it at
  if (game.cells[entered]) at = game.cells[entered][play.spot][0];
});
play.on('fired', ({ rule }) => (told.textContent = `rule ${rule}`));

/** Does what the flow can do now, and shows what came of it. */
function act(step) {
  if (play.can(step)) play.do(step);
  show();
}

/** One cell on: the ground decides whether; what stands there is taken or touched; another part of the level is walked to. */
function move([x, y]) {
  const { plan, pieces, passages } = level();
  const to = [at[0] + x, at[1] + y];
  const open = { '.': true, '>': x === 1, '<': x === -1, '^': y === -1, v: y === 1 }[ground(plan, to)];
  if (!open) return;
  const before = play.place.id;
  at = to;
  const spot = Object.entries(game.cells[before]).find(([, cells]) => cells.some((cell) => key(cell) === key(to)))?.[0];
  const way = play.choices().find(({ event }) => {
    const passage = passages[event.walk];
    return passage && spot !== play.spot && (passage.to === spot || (passage.both && passage.from === spot));
  });
  if (way) play.do(way.event);
  const piece = play.place.id === before ? pieceAt(to) : undefined;
  if (piece !== undefined && pieces[piece].kind === 'pickup') {
    taken.add(key(to));
    act({ collect: piece });
  } else if (piece !== undefined) act({ touch: piece });
  else show();
}

function show() {
  place.textContent = play.place.name;
  message.textContent = play.message ?? '';
  buttons.replaceChildren(
    ...play.choices().flatMap(({ event, label }) => {
      if (!event.press) return [];
      const button = document.createElement('button');
      button.textContent = event.press;
      button.title = label;
      button.onclick = () => act(event);
      return [button];
    })
  );
  clearTimeout(timer);
  const [due] = play.timers();
  if (due) timer = setTimeout(() => act(due.event), 1000 * (due.at ?? due.each));
  const here = level();
  street.hidden = !here;
  if (here) draw(here);
}

const colours = { '#': '#343d4a', '.': '#f7f9fa', '>': '#d9efe9' };
const looks = { pickup: '#e39a12', hazard: '#44597b', exit: '#0b6f5e' };

function draw({ plan, pieces }) {
  street.width = plan.rows[0].length * size;
  street.height = plan.rows.length * size;
  const pen = street.getContext('2d');
  const square = ([x, y], colour, less = 0) => {
    pen.fillStyle = colour;
    pen.fillRect(x * size + less, y * size + less, size - 2 * less, size - 2 * less);
  };
  plan.rows.forEach((row, y) => [...row].forEach((char, x) => square([x, y], colours[char] ?? colours['.'])));
  for (const { piece, cells } of Object.values(plan.things))
    for (const cell of cells) if (!taken.has(key(cell))) square(cell, looks[pieces[piece].kind], 9);
  pen.fillStyle = '#9c3d25';
  pen.beginPath();
  pen.arc((at[0] + 0.5) * size, (at[1] + 0.5) * size, size * 0.36, 0, 2 * Math.PI);
  pen.fill();
  street.dataset.at = key(at);
  street.setAttribute('aria-label', `${play.place.name}: the player is at ${key(at)}, lamps left: ${play.left('lamp')}`);
}

const ways = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] };
addEventListener('keydown', (event) => {
  const way = ways[event.key];
  if (way && level()) {
    event.preventDefault();
    move(way);
  } else if (event.target === document.body) {
    // the keys that the rules name
    const rule = game.flow.places[play.place.id].rules.find(({ when }) => when.key === event.key);
    if (rule) act({ press: rule.when.press });
  }
});
show();
