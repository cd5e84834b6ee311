// The live page: shows the events that the watcher sends. Plain functions and the browser's own elements.
const $ = id => document.getElementById(id);
const host = $('report');
const shadow = host.attachShadow({ mode: 'open' });
const houseStyle = document.createElement('style');
const ownStyle = document.createElement('style');
const sheets = document.createElement('div');
shadow.append(houseStyle, ownStyle, sheets);

ownStyle.textContent = `
:host{display:block}
.sheet{position:relative;width:min(100%,var(--width));max-width:none;min-height:12rem;margin:0 auto 1.4rem;padding:4rem var(--right) 4rem var(--left);box-shadow:0 1px 6px #000a;overflow:clip;background:#fff;color:var(--text)}
.page-edge{display:block;position:relative;height:1.5rem;margin:1.6rem -100vw;background:#22262b;list-style:none;text-indent:0}
.page-edge::after{content:"page " attr(data-page);position:absolute;left:50%;top:.1rem;transform:translateX(-50%);font:12px/1.3rem system-ui,"Liberation Sans",sans-serif;color:#c3cad2;font-weight:normal}
.sheet>.page-edge:first-child{height:0;margin:0}
.sheet>.page-edge:first-child::after{top:-3.4rem;left:auto;right:1rem;transform:none;color:#5b6570}
.page-edge-row td{padding:0!important;border:0!important}.page-edge-row .page-edge{margin:.3rem 0;height:1.2rem}
.continuous .page-edge{display:none}.continuous .sheet{box-shadow:none;margin-bottom:0}
.value{cursor:pointer;border-bottom:1px dotted #8a94a0}
.value:hover,.value.chosen{background:#fff0cc}
.value:focus-visible,a:focus-visible,.problem button:focus-visible{outline:2px solid #a05a00;outline-offset:1px}
.changed{box-shadow:-6px 0 0 -2px #e0a33e}
.chosen-block{outline:1px solid #b9c2cc;outline-offset:4px}
.lead{display:inline-block;width:1.5em}
.problem{font:14px/1.45 system-ui,"Liberation Sans",sans-serif;color:#3d1009;background:#fdeae7;border-left:5px solid #b3261e;padding:.6rem .8rem;margin:.8rem 0}
.problem.warning,.problem.advice{color:#3a2a05;background:#fdf4dd;border-color:#a66b00}
.problem p{margin:.1rem 0}.problem pre{background:#fff8;margin:.4rem 0 0;padding:.3rem .5rem;font:12.5px/1.45 "Liberation Mono",monospace;overflow-x:auto}.problem .here{background:#f6c9c2;display:block}
@media(max-width:50rem){.sheet{padding:1.5rem 1rem}}
@media print{.page-edge{display:none}.sheet{box-shadow:none}}`;

let setup = { hasEditor: false, manuscript: '' };
let origins = [];
let state = {};
let savedProblems = [];
let shownRun = 0;
let panelOf = null;
const places = new WeakMap();

// ---- the report

/** The parts of a sheet that are compared with those of the run before; what is only for this page is taken out and kept beside. */
function read(html) {
  const template = document.createElement('template');
  template.innerHTML = html;
  for (const element of template.content.querySelectorAll('[data-at]')) {
    places.set(element, element.dataset.at);
    delete element.dataset.at;
  }
  for (const value of template.content.querySelectorAll('.value')) {
    places.set(value, Number(value.dataset.origin));
    delete value.dataset.origin;
    value.tabIndex = -1;
    value.setAttribute('role', 'button');
  }
  return [...template.content.children];
}

/** Brings old elements into the form of new ones: what is the same stays, so that the place and the choice stay too. */
function bring(parent, old, fresh, changed) {
  const same = (a, b) => a.outerHTML === b.outerHTML;
  const keep = (a, b) => {
    const [from, to] = [b.querySelectorAll('*'), a.querySelectorAll('*')];
    for (let i = -1; i < from.length; i++) {
      const [source, target] = i < 0 ? [b, a] : [from[i], to[i]];
      if (places.has(source)) places.set(target, places.get(source));
    }
  };
  let start = 0;
  while (start < old.length && start < fresh.length && same(old[start], fresh[start])) keep(old[start], fresh[start++]);
  let [oldEnd, freshEnd] = [old.length, fresh.length];
  while (oldEnd > start && freshEnd > start && same(old[oldEnd - 1], fresh[freshEnd - 1])) keep(old[--oldEnd], fresh[--freshEnd]);
  const before = old[oldEnd] ?? null;
  const gone = new Map();
  for (const element of old.slice(start, oldEnd)) {
    gone.set(element.outerHTML, element);
    element.remove();
  }
  for (const element of fresh.slice(start, freshEnd)) {
    const known = gone.get(element.outerHTML);
    if (known && !known.isConnected) {
      keep(known, element);
      parent.insertBefore(known, before);
    } else {
      parent.insertBefore(element, before);
      if (!element.classList.contains('page-edge')) changed.push(element);
    }
  }
}

function showReport({ run, report }) {
  const isFirst = shownRun === 0 || run < shownRun;
  for (const element of shadow.querySelectorAll('.problem')) element.remove();
  for (const element of shadow.querySelectorAll('.changed,.chosen,.chosen-block')) {
    element.classList.remove('changed', 'chosen', 'chosen-block');
    if (!element.classList.length) element.removeAttribute('class');
  }
  if (houseStyle.textContent !== report.style) houseStyle.textContent = report.style;
  host.lang = report.language;
  origins = report.origins;
  const fresh = read(report.html);
  const changed = [];
  const old = [...sheets.children];
  // Sheets of the same size are compared by their parts.
  keepPlace(() => {
    for (let i = 0; i < Math.max(old.length, fresh.length); i++) {
      if (fresh[i]) places.set(fresh[i], { look: fresh[i].getAttribute('style') });
      if (!fresh[i]) old[i].remove();
      else if (!old[i]) sheets.append(fresh[i]);
      else if (places.get(old[i])?.look !== places.get(fresh[i]).look) old[i].replaceWith(fresh[i]);
      else bring(old[i], [...old[i].children], [...fresh[i].children], changed);
    }
  });
  if (!isFirst) for (const element of changed) element.classList.add('changed');
  $('show-changes').hidden = isFirst || changed.length === 0;
  $('show-changes').textContent = `${changed.length} changed`;
  shownRun = run;
  document.title = report.title || setup.manuscript;
  $('title').textContent = report.title || setup.manuscript;
  fit();
  listContents();
  if (panelOf) panelOf();
}

/** Pages become smaller where they have no room, so that their lines stay as they are; on a telephone lines are broken anew. */
function fit() {
  const room = host.clientWidth - 32;
  keepPlace(() => {
    for (const sheet of sheets.children) {
      const width = parseFloat(sheet.style.getPropertyValue('--width')) * 96 / 72;
      sheet.style.zoom = room < width && room > 400 ? room / width : 1;
    }
  });
}

/** Does something to the report; what is at the top of the view stays there. */
function keepPlace(change) {
  const top = host.getBoundingClientRect().top;
  const anchor = [...shadow.querySelectorAll('.sheet>*')].find(e => e.getBoundingClientRect().bottom > top);
  const offset = anchor?.getBoundingClientRect().top;
  change();
  if (anchor?.isConnected) host.scrollTop += anchor.getBoundingClientRect().top - offset;
}

function listContents() {
  const list = document.createElement('ol');
  for (const heading of shadow.querySelectorAll('h2,h3,h4')) {
    const link = document.createElement('a');
    link.href = '#';
    link.textContent = heading.textContent;
    link.style.paddingLeft = `${(Number(heading.localName[1]) - 2) * 0.9 + 0.3}rem`;
    link.onclick = event => {
      event.preventDefault();
      heading.scrollIntoView();
      focusOn(heading);
    };
    link.heading = heading;
    const item = document.createElement('li');
    item.append(link);
    list.append(item);
  }
  $('contents').replaceChildren(list);
  markContents();
}

function markContents() {
  const top = host.getBoundingClientRect().top + 60;
  const links = [...$('contents').querySelectorAll('a')];
  const current = links.filter(l => l.heading.getBoundingClientRect().top <= top).at(-1);
  for (const link of links) link.toggleAttribute('aria-current', link === current);
}

function focusOn(element) {
  element.tabIndex = -1;
  element.focus({ preventScroll: true });
}

// ---- what runs, and what is wrong

const seconds = ms => ms < 1000 ? `${Math.round(ms)} ms` : `${(ms / 1000).toFixed(1)} s`;
let ticking = 0;

function showState(next) {
  state = next.problems || next.steps ? next : { ...state, ...next, step: next.step };
  clearInterval(ticking);
  const status = $('status');
  status.classList.toggle('wrong', !state.isMaking && !!state.hasFailed);
  if (state.isMaking) {
    const since = Date.now();
    const tell = () => {
      const took = Date.now() - since;
      status.textContent = state.step ? `step ${state.step.name} runs${took > 900 ? `, ${Math.round(took / 1000)} s` : ''}` : took > 250 ? 'making the report' : status.textContent;
    };
    tell();
    ticking = setInterval(tell, 250);
    return;
  }
  const errors = (state.problems ?? []).filter(p => p.severity === 'error').length;
  status.textContent = state.hasFailed ? `${errors} error${errors === 1 ? '' : 's'}; the page shows the report before`
    : `${state.pages} page${state.pages === 1 ? '' : 's'} in ${seconds(state.milliseconds)}`;
  showProblems();
  if (panelOf) panelOf();
}

const problems = () => [...(state.problems ?? []), ...savedProblems];

function showProblems() {
  for (const element of shadow.querySelectorAll('.problem')) element.remove();
  const all = problems();
  const button = $('show-problems');
  button.hidden = all.length === 0;
  button.textContent = `${all.length} problem${all.length === 1 ? '' : 's'}`;
  for (const problem of all.filter(p => p.severity === 'error' || p.line > 0)) {
    const card = cardOf(problem);
    const block = blockAt(problem.file, problem.line);
    if (block) block.after(card);
    else if (problem.severity === 'error') (sheets.firstElementChild ?? sheets).prepend(card);
  }
  if (!sheets.firstElementChild && state.hasFailed) {
    const sheet = document.createElement('div');
    sheet.className = 'sheet';
    sheet.style.setProperty('--width', '595pt');
    sheet.append(...all.map(cardOf));
    sheets.append(sheet);
  }
}

/** The last block that stands at a line or before it; it is a part of a sheet. */
function blockAt(file, line) {
  let found = null;
  for (const element of shadow.querySelectorAll('.sheet *')) {
    const at = places.get(element);
    if (typeof at !== 'string') continue;
    const colon = at.lastIndexOf(':');
    if (at.slice(0, colon) === file && Number(at.slice(colon + 1)) <= line && (!found || Number(at.slice(colon + 1)) >= found.line)) found = { element, line: Number(at.slice(colon + 1)) };
  }
  let element = found?.element ?? null;
  while (element && !element.parentElement.classList.contains('sheet')) element = element.parentElement;
  return element;
}

function make(name, attributes = {}, ...children) {
  const element = document.createElement(name);
  for (const [key, value] of Object.entries(attributes)) key === 'onclick' ? element.onclick = value : element.setAttribute(key, value);
  element.append(...children);
  return element;
}

function cardOf(problem) {
  const card = make('div', { class: `problem ${problem.severity}`, tabindex: '-1' }, make('p', {}, make('strong', {}, `${problem.severity}: `), ...words(problem.message)));
  if (problem.suggestion) card.append(make('p', {}, ...words(problem.suggestion)));
  if (problem.file) card.append(make('p', { class: 'at' }, placeOf(problem.file, problem.line, problem.column), ...buttonsFor(problem.file, problem.line, problem.column)));
  if (problem.code.length) card.append(make('pre', {}, ...problem.code.map(l => make('code', l.number === problem.line ? { class: 'here' } : {}, `${String(l.number).padStart(4)}  ${l.text}\n`))));
  return card;
}

/** A message, in which what stands between backticks is code. */
const words = message => message.split('`').map((part, i) => i % 2 ? make('code', {}, part) : part);

const placeOf = (file, line, column) => line > 0 ? column > 0 ? `${file}:${line}:${column}` : `${file}:${line}` : file;

function buttonsFor(file, line, column) {
  const copy = make('button', { onclick: () => navigator.clipboard?.writeText(placeOf(file, line, 0)) }, 'Copy place');
  if (!setup.hasEditor) return [' ', copy];
  return [' ', copy, ' ', make('button', { onclick: () => ask({ open: file, line, column }) }, 'Open in editor')];
}

const ask = question => fetch('ask', { method: 'POST', headers: { 'content-type': 'application/json' }, body: JSON.stringify(question) });

// ---- the panel

function openPanel(title, from, fill) {
  const panel = $('panel');
  const again = () => {
    const content = fill();
    if (content === null) return closePanel();
    panel.replaceChildren(make('h2', {}, title, make('button', { onclick: closePanel, 'aria-label': 'Close' }, '✕')), ...content);
  };
  panelOf = again;
  panel.hidden = false;
  for (const id of ['show-problems', 'show-steps', 'show-keys']) $(id).setAttribute('aria-expanded', String($(id) === from));
  again();
}

function closePanel() {
  panelOf = null;
  $('panel').hidden = true;
  for (const id of ['show-problems', 'show-steps', 'show-keys']) $(id).setAttribute('aria-expanded', 'false');
}

const toggle = (button, title, fill) => button.getAttribute('aria-expanded') === 'true' ? closePanel() : openPanel(title, button, fill);

function fillSteps() {
  const steps = state.steps ?? [];
  if (!steps.length) return [make('p', {}, 'No step has run.')];
  return steps.map(step => make('details', {}, make('summary', {}, make('strong', {}, step.name), ` ${step.role} `, make('span', { class: 'at' }, `${step.isReused ? 'as before' : seconds(step.milliseconds)}`)),
    make('p', { class: 'at' }, placeOf(step.file, step.line, 0), ...(step.line ? buttonsFor(step.file, step.line, 1) : [])),
    ...(step.written ? [make('h3', {}, 'Written to the console'), make('pre', {}, step.written)] : []),
    ...(step.result ? [make('h3', {}, 'Result'), make('pre', {}, step.result)] : [])));
}

function showValue(element) {
  const origin = origins[places.get(element)];
  if (!origin) return;
  choose(element);
  openPanel('Where this comes from', null, () => [make('dl', {},
    make('dt', {}, 'Shown'), make('dd', {}, element.textContent),
    make('dt', {}, 'Value'), make('dd', {}, origin.value),
    make('dt', {}, 'Expression'), make('dd', {}, make('code', {}, origin.expression)),
    ...(origin.format ? [make('dt', {}, 'Format'), make('dd', {}, make('code', {}, origin.format))] : []),
    make('dt', {}, 'Place'), make('dd', {}, placeOf(origin.file, origin.line, origin.column))),
  make('p', {}, ...buttonsFor(origin.file, origin.line, origin.column))]);
}

function showBlock(element) {
  const at = places.get(element);
  const colon = at.lastIndexOf(':');
  const [file, line] = [at.slice(0, colon), Number(at.slice(colon + 1))];
  choose(element);
  openPanel('Where this was written', null, () => [make('p', {}, placeOf(file, line, 0)), make('p', {}, ...buttonsFor(file, line, 1))]);
}

function choose(element) {
  for (const other of shadow.querySelectorAll('.chosen,.chosen-block')) other.classList.remove('chosen', 'chosen-block');
  element.classList.add(element.classList.contains('value') ? 'chosen' : 'chosen-block');
}

// ---- hands on the keyboard and the mouse

shadow.addEventListener('click', event => {
  const link = event.target.closest('a[href^="#"]');
  if (link) {
    event.preventDefault();
    const target = shadow.getElementById(decodeURIComponent(link.getAttribute('href').slice(1)));
    if (target) {
      target.scrollIntoView();
      focusOn(target);
    }
    return;
  }
  if (event.target.closest('a,button,summary') || getSelection().toString()) return;
  const value = event.target.closest('.value');
  if (value) return showValue(value);
  for (let element = event.target; element && element !== sheets; element = element.parentElement)
    if (typeof places.get(element) === 'string') return showBlock(element);
});
shadow.addEventListener('keydown', event => {
  const value = event.target.closest('.value');
  if (value && (event.key === 'Enter' || event.key === ' ')) {
    event.preventDefault();
    showValue(value);
  }
});

const round = {};
function goThrough(kind, selector, back) {
  const all = [...shadow.querySelectorAll(selector)];
  if (!all.length) return;
  const at = all.indexOf(shadow.activeElement);
  const next = at >= 0 ? at + (back ? -1 : 1) : round[kind] ?? (back ? -1 : 0);
  const element = all.at(next % all.length);
  round[kind] = undefined;
  element.scrollIntoView({ block: 'center' });
  focusOn(element);
}

const keys = [
  ['v', 'next value; Enter shows where it comes from', back => goThrough('value', '.value', back)],
  ['c', 'next change', back => goThrough('change', '.changed', back)],
  ['e', 'next problem', back => goThrough('problem', '.problem', back)],
  ['h', 'next heading', back => goThrough('heading', 'h1,h2,h3,h4', back)],
  ['p', 'pages or one continuous text', () => $('show-pages').click()],
  ['t', 'contents', () => $('show-contents').click()],
  ['s', 'steps', () => $('show-steps').click()],
  ['r', 'run all steps again', () => ask({ again: true })],
];
const fillKeys = () => [make('dl', {}, ...keys.flatMap(([key, what]) => [make('dt', {}, make('kbd', {}, key)), make('dd', {}, what)]), make('dt', {}, make('kbd', {}, 'Shift')), make('dd', {}, 'with one of these: the one before'), make('dt', {}, make('kbd', {}, 'Esc')), make('dd', {}, 'closes this'))];

document.addEventListener('keydown', event => {
  if (event.ctrlKey || event.altKey || event.metaKey) return;
  if (event.key === 'Escape') return closePanel();
  const key = keys.find(k => k[0] === event.key.toLowerCase());
  if (!key) return;
  event.preventDefault();
  key[2](event.shiftKey);
});

$('show-pages').onclick = () => {
  const pressed = sheets.classList.toggle('continuous');
  $('show-pages').setAttribute('aria-pressed', String(!pressed));
};
$('show-contents').onclick = () => {
  const hidden = document.body.classList.toggle('no-contents');
  $('show-contents').setAttribute('aria-pressed', String(!hidden));
};
$('show-changes').onclick = () => goThrough('change', '.changed', false);
$('show-problems').onclick = () => toggle($('show-problems'), 'Problems', () => problems().length ? problems().map(cardOf) : [make('p', {}, 'Nothing is wrong any more.')]);
$('show-steps').onclick = () => toggle($('show-steps'), 'Steps', fillSteps);
$('show-keys').onclick = () => toggle($('show-keys'), 'Keys', fillKeys);
host.addEventListener('scroll', markContents, { passive: true });
new ResizeObserver(fit).observe(host);
if (matchMedia('(max-width:50rem)').matches) $('show-contents').click();

// ---- the events

const source = new EventSource('events');
source.onopen = () => $('lost').hidden = true;
source.onerror = () => $('lost').hidden = false;
source.addEventListener('setup', event => {
  setup = JSON.parse(event.data);
  $('title').textContent = setup.manuscript;
});
source.addEventListener('report', event => showReport(JSON.parse(event.data)));
source.addEventListener('state', event => showState(JSON.parse(event.data)));
source.addEventListener('document', event => {
  savedProblems = JSON.parse(event.data).problems;
  showProblems();
});
