// The window of the page: time, clips, copies, parameters, the camera; by mouse, touch and keys.

const byId = id => document.getElementById(id);
const plan = JSON.parse(byId('plan').textContent);
const pageFiles = new Map(); // name → bytes

const state = {
  playing: !matchMedia('(prefers-reduced-motion: reduce)').matches,
  clip: 0, seconds: 0, before: 0, secondsBefore: 0, fade: 1, fadeSeconds: 0.3, speed: 1,
  turn: 0.6, tilt: 0.25, distance: 0, player: null, drawn: 0, frames: 0, since: 0,
};

function say(text, bad) {
  byId('note').textContent = text;
  byId('note').className = bad ? 'bad' : '';
}

/** Those inside the page, else those that lie beside it. */
async function findFiles() {
  for (const each of document.querySelectorAll('script[type="application/octet-stream"]')) {
    pageFiles.set(each.dataset.name, Uint8Array.from(atob(each.textContent), c => c.charCodeAt(0)));
  }
  for (const name of plan.files.filter(n => !pageFiles.has(n))) {
    const answer = await fetch(encodeURIComponent(name));
    if (!answer.ok) throw new Error('the file ' + name + ' is missing');
    pageFiles.set(name, new Uint8Array(await answer.arrayBuffer()));
  }
}

const clipOf = n => state.player.manifest.clips ? state.player.manifest.clips[n] : null;
/** The length of a clip, or of the loop, in seconds. */
function lengthOf(n) {
  const clip = clipOf(n);
  if (!clip) return state.player.manifest.score.loop_seconds;
  const frames = clip.length || clip.frames;
  return Math.max((clip.closed ? frames : frames - 1) / clip.fps, 0.05);
}
const momentNow = () => ({clip: state.clip, seconds: state.seconds, before: state.before, secondsBefore: state.secondsBefore, progress: state.fade});

function setClip(n) {
  const clips = state.player.manifest.clips;
  if (n === state.clip || !clips || n < 0 || n >= clips.length) return;
  const [from, to] = [clips[state.clip].name, clips[n].name];
  const own = (state.player.manifest.transitions || []).find(t => t.from === from && t.to === to);
  Object.assign(state, {before: state.clip, secondsBefore: state.seconds, clip: n, seconds: 0, fade: 0, fadeSeconds: own ? own.seconds : 0.3});
  if (state.fadeSeconds <= 0 || !state.playing) state.fade = 1;
  [...byId('clips').children].forEach((button, i) => button.setAttribute('aria-pressed', i === n));
  byId('time').max = lengthOf(n);
}

function setPlaying(on) {
  state.playing = on;
  byId('play').textContent = on ? 'Pause' : 'Play';
}

function setCopies(count) {
  state.player.setCopies(Math.min(Math.max(Math.round(count) || 1, 1), 2000));
  byId('copies').value = state.player.copies;
  frameAll();
  showFacts();
}

function frameAll() {
  const {low, high, spread} = state.player;
  state.centre = low.map((v, c) => (v + high[c]) / 2);
  const size = Math.hypot(...low.map((v, c) => high[c] - v));
  state.distance = 1.25 * size + 2.2 * spread;
  state.far = 20 * (size + spread);
}

function orbit(turn, tilt) {
  state.turn += turn;
  state.tilt = Math.min(Math.max(state.tilt + tilt, -1.5), 1.5);
}
function zoom(factor) {
  state.distance = Math.min(Math.max(state.distance * factor, 1e-3 * state.far), state.far);
}

function showFacts() {
  const {player} = state, memory = player.textureBytes / 1024;
  const facts = [['Vertices', (player.mesh.vertices * player.copies).toLocaleString('en').replaceAll(',', '\u202f')],
                 ['Vertex code', plan.cost.instructions + ' instructions, ' + plan.cost.fetches + ' fetches'],
                 ['Written for', plan.target]];
  if (player.textures.length) facts.splice(1, 0, ['Textures here', memory < 1024 ? memory.toFixed(1) + ' KiB' : (memory / 1024).toFixed(1) + ' MiB']);
  byId('facts').replaceChildren(...facts.flatMap(([name, value]) => {
    const [term, own] = [document.createElement('dt'), document.createElement('dd')];
    term.textContent = name;
    own.textContent = value;
    return [term, own];
  }));
}

function buildControls() {
  const {player} = state, clips = player.manifest.clips || [];
  byId('clips').replaceChildren(...(clips.length > 1 ? clips : []).map((clip, i) => {
    const button = document.createElement('button');
    button.textContent = clip.name;
    button.setAttribute('aria-pressed', i === 0);
    button.onclick = () => setClip(i);
    return button;
  }));
  const parameters = plan.kind === 'score' ? player.manifest.score.parameters : [];
  byId('parameters').replaceChildren(...parameters.map(parameter => {
    const label = document.createElement('label'), slider = document.createElement('input'), value = document.createElement('output');
    Object.assign(slider, {type: 'range', min: parameter.least, max: parameter.most, step: parameter.whole ? 1 : 'any', value: parameter.default, id: 'parameter-' + parameter.name});
    const show = () => { value.textContent = Number(player.chosen[parameter.name].toPrecision(3)) + (parameter.unit ? ' ' + parameter.unit : ''); };
    slider.oninput = () => {
      player.chosen[parameter.name] = Number(slider.value);
      show();
    };
    const name = document.createElement('span');
    name.textContent = parameter.name.replaceAll('_', ' ');
    label.title = parameter.help || '';
    label.append(name, slider, value);
    show();
    return label;
  }));
  byId('time').max = lengthOf(0);
  byId('time').oninput = () => {
    setPlaying(false);
    state.seconds = Number(byId('time').value);
    state.fade = 1;
  };
  byId('play').onclick = () => setPlaying(!state.playing);
  byId('copies').onchange = () => setCopies(Number(byId('copies').value));
  byId('speed').onchange = () => { state.speed = Number(byId('speed').value); };
  setPlaying(state.playing);
}

function listen(canvas) {
  const fingers = new Map();
  canvas.onpointerdown = event => {
    fingers.set(event.pointerId, [event.clientX, event.clientY]);
    try { canvas.setPointerCapture(event.pointerId); } catch { /* a pointer that is gone already */ }
  };
  canvas.onpointermove = event => {
    const old = fingers.get(event.pointerId);
    if (!old) return;
    const now = [event.clientX, event.clientY], others = [...fingers].filter(([id]) => id !== event.pointerId);
    if (others.length) { // two fingers: their distance
      const [, other] = others[0], apart = p => Math.hypot(p[0] - other[0], p[1] - other[1]);
      zoom(Math.max(apart(old), 1) / Math.max(apart(now), 1));
    } else {
      orbit(-0.01 * (now[0] - old[0]), 0.01 * (now[1] - old[1]));
    }
    fingers.set(event.pointerId, now);
  };
  canvas.onpointerup = canvas.onpointercancel = event => fingers.delete(event.pointerId);
  canvas.addEventListener('wheel', event => {
    event.preventDefault();
    zoom(Math.exp(0.0012 * event.deltaY));
  }, {passive: false});
  canvas.onkeydown = event => {
    const act = {
      ' ': () => setPlaying(!state.playing),
      ArrowLeft: () => orbit(-0.12, 0), ArrowRight: () => orbit(0.12, 0),
      ArrowUp: () => orbit(0, 0.12), ArrowDown: () => orbit(0, -0.12),
      '+': () => zoom(0.9), '-': () => zoom(1 / 0.9), Home: () => { Object.assign(state, {turn: 0.6, tilt: 0.25}); frameAll(); },
    }[event.key] || (/^[1-9]$/.test(event.key) ? () => setClip(Number(event.key) - 1) : null);
    if (act) {
      event.preventDefault();
      act();
    }
  };
}

/** The projection of the camera, for a picture of this shape. */
function cameraOf(aspect) {
  const near = Math.max(1e-3 * state.distance, 1e-5 * state.far);
  return mat.multiply(mat.perspective(0.7, aspect, near, state.distance + state.far), mat.look(state.turn, state.tilt, state.distance, state.centre));
}

function drawFrame(now) {
  const {player} = state, gl = player.gl, canvas = gl.canvas;
  const passed = Math.min(now - state.drawn, 100) / 1000;
  state.drawn = now;
  if (state.playing) {
    const clip = clipOf(state.clip), length = lengthOf(state.clip);
    state.seconds += passed * state.speed;
    state.secondsBefore += passed * state.speed;
    // A clip that does not loop stays at its end for half a second.
    if (!clip || clip.closed) state.seconds %= length;
    else if (state.seconds > length + 0.5) state.seconds = 0;
    if (state.fade < 1) state.fade = Math.min(1, state.fade + passed * state.speed / state.fadeSeconds);
    byId('time').value = Math.min(state.seconds, length);
  }
  const density = Math.min(devicePixelRatio || 1, 2);
  const [width, height] = [Math.max(1, Math.round(canvas.clientWidth * density)), Math.max(1, Math.round(canvas.clientHeight * density))];
  if (canvas.width !== width || canvas.height !== height) Object.assign(canvas, {width, height});
  gl.viewport(0, 0, width, height);
  gl.clearColor(0.075, 0.157, 0.188, 1);
  gl.clear(gl.COLOR_BUFFER_BIT | gl.DEPTH_BUFFER_BIT);
  player.draw(momentNow(), cameraOf(width / height));
  player.drawGround(cameraOf(width / height));
  byId('clock').textContent = Math.min(state.seconds, lengthOf(state.clip)).toFixed(2) + ' of ' + lengthOf(state.clip).toFixed(2) + ' s';
  ++state.frames;
  if (!state.since) Object.assign(state, {since: now, frames: 0});
  if (now - state.since > 1000) {
    byId('rate').textContent = Math.round(state.frames * 1000 / (now - state.since)) + ' pictures a second';
    Object.assign(state, {since: now, frames: 0});
  }
  requestAnimationFrame(drawFrame);
}

async function begin() {
  const canvas = byId('stage'), gl = canvas.getContext('webgl2', {antialias: true});
  if (!gl) {
    document.body.className = 'still'; // the picture that the page brings
    say('This browser has no WebGL 2: here is a picture of the mesh at rest.', true);
    return;
  }
  const open = async () => {
    state.player = await Player.open(gl, plan, pageFiles);
    state.distance = 0;
    frameAll();
    buildControls();
    showFacts();
    listen(canvas);
    byId('choose').hidden = true;
    const test = JSON.parse(new TextDecoder().decode(pageFiles.get(plan.test)));
    const worst = state.player.compareWithTest(test), millimetres = 1000 * worst;
    const right = worst <= plan.allowedMetres;
    say((right ? 'Reads right: the bundle’s own test is met to ' : 'Does not read right: the bundle’s own test is missed by ') +
        (millimetres < 0.001 ? 'under 0.001' : millimetres.toPrecision(2)) + ' mm.', !right);
    document.body.className = 'playing';
    requestAnimationFrame(drawFrame);
  };
  byId('choose').onchange = async event => {
    for (const file of event.target.files) pageFiles.set(file.name, new Uint8Array(await file.arrayBuffer()));
    try { await open(); } catch (problem) { say(problem.message, true); }
  };
  try {
    await findFiles();
  } catch {
    // A page that is opened from a disk may not read its neighbours by itself.
    byId('choose').hidden = false;
    say('Choose all files of the folder that this page lies in: a browser does not read them by itself from a disk.');
    return;
  }
  try {
    await open();
  } catch (problem) {
    document.body.className = 'still';
    say(problem.message, true);
  }
}

/** For those who look at the page from outside, as its test does. */
window.curlyRipple = {state, ready: begin(), momentNow, setClip, setCopies, hashed};
