// Plays a bundle: gives the mesh, textures and time to the bundle's own code, in a vertex stage. `plan` says
// what that code is called with; the writer of the page took it from the bundle's example stage.

const mat = { // 4 × 4, column by column
  multiply(a, b) {
    const m = new Float32Array(16);
    for (let c = 0; c < 4; ++c) for (let r = 0; r < 4; ++r) for (let k = 0; k < 4; ++k) m[4 * c + r] += a[4 * k + r] * b[4 * c + k];
    return m;
  },
  perspective(height, aspect, near, far) {
    const f = 1 / Math.tan(height / 2);
    return new Float32Array([f / aspect, 0, 0, 0, 0, f, 0, 0, 0, 0, (far + near) / (near - far), -1, 0, 0, 2 * far * near / (near - far), 0]);
  },
  /** From `distance` away, turned about the vertical and raised by `tilt`, both in radians. */
  look(turn, tilt, distance, centre) {
    const s = Math.sin(turn), c = Math.cos(turn), t = Math.sin(tilt), u = Math.cos(tilt);
    const m = new Float32Array([c, -s * t, s * u, 0, 0, u, t, 0, -s, -c * t, c * u, 0, 0, 0, -distance, 1]);
    for (let r = 0; r < 3; ++r) m[12 + r] -= m[r] * centre[0] + m[4 + r] * centre[1] + m[8 + r] * centre[2];
    return m;
  },
};

/** The rows of the matrix from glTF's axes to the target's, of ["+X", "-Z", "+Y"]. */
function axesOf(letters) {
  return letters.map(letter => [0, 1, 2].map(c => 'XYZ'[c] === letter[1] ? (letter[0] === '-' ? -1 : 1) : 0));
}

/** What a copy differs in, 0 to 1: the hash of NAME_crowd_copy_of(seed, index), which `ripple scatter` writes. */
function hashed(seed, index, purpose) {
  let h = (Math.imul(index, 0x8da6b343) + Math.imul(purpose, 0xd8163841) + Math.imul(seed, 0x9e3779b1)) >>> 0;
  h = Math.imul(h ^ (h >>> 16), 0x7feb352d) >>> 0;
  h = Math.imul(h ^ (h >>> 15), 0x846ca68b) >>> 0;
  return ((h ^ (h >>> 16)) >>> 8) / 16777216;
}
const kPurpose = {start: 1, turn: 3, size: 4, id: 6};

class Player {
  /** `files`: name → bytes. Throws what is missing, or what the graphics card says of the code. */
  static async open(gl, plan, files) {
    const player = new Player();
    player.gl = gl;
    player.plan = plan;
    const bytesOf = name => {
      if (!files.has(name)) throw new Error('the file ' + name + ' is missing');
      return files.get(name);
    };
    player.manifest = JSON.parse(new TextDecoder().decode(bytesOf(plan.manifest)));
    player.target = player.manifest.target;
    player.axes = axesOf(player.target.axes);
    const glb = readGlb(bytesOf(player.manifest.mesh.file));
    player.mesh = readMesh(glb);
    player.compile(new TextDecoder().decode(bytesOf(plan.code)));
    await player.takeTextures(bytesOf);
    await player.takeMaterials(glb);
    player.takeMesh();
    player.setCopies(1);
    return player;
  }

  /** What an importer makes of a position of the mesh. */
  there(p) {
    return this.axes.map(row => (row[0] * p[0] + row[1] * p[1] + row[2] * p[2]) / this.target.unit_metres);
  }
  /** And back: metres in glTF's axes. */
  here(p) {
    return [0, 1, 2].map(c => (this.axes[0][c] * p[0] + this.axes[1][c] * p[1] + this.axes[2][c] * p[2]) * this.target.unit_metres);
  }

  compile(code) {
    const {plan, gl} = this, score = plan.kind === 'score';
    const parameters = score ? this.manifest.score.parameters : [];
    const handed = plan.arguments.map(a => a === plan.defaults ? 'chosen' : a).join(', ');
    const call = (what, more) => plan.identifier + what + '(' + (handed ? handed + ', ' : '') + more + ')';
    const vertex = `#version 300 es
${code}
${plan.attributes.map((a, i) => `layout(location = ${i}) in ${a.type} ${a.name};`).join('\n')}
layout(location = 14) in vec4 copy_place; // where it stands, and its size
layout(location = 15) in vec3 copy_own;   // its turn about the vertical in radians, its id, seconds that it is ahead
${plan.textures.map(t => `uniform highp sampler2D ${t};`).join('\n')}
${parameters.map(p => `uniform ${p.whole ? 'int' : 'float'} chosen_${p.name};`).join('\n')}
uniform mat4 view_to_clip;
uniform mat3 axes;    // from glTF's to the target's
uniform float metres; // of one unit of the target
uniform float clock, clock_before, progress;
uniform int clip_number, clip_before;
out vec3 posed;        // as the engine would have it
out vec3 posed_normal;
out float row_is_right; // the textures' test rows
out vec3 world_normal;
out vec2 base_uv;
out vec4 tint;
void main() {
  float c = cos(copy_own.x), s = sin(copy_own.x);
  mat3 turn = mat3(c, 0.0, -s, 0.0, 1.0, 0.0, s, 0.0, c);
  vec3 copy_origin = axes * copy_place.xyz / metres;
  float copy_scale = copy_place.w, copy_id = copy_own.y;
  mat3 copy_axes = axes * turn * transpose(axes);
  float seconds = clock + copy_own.z;
${score && parameters.length ? `  ${plan.identifier}_parameters chosen = ${plan.defaults};
${parameters.map(p => `  chosen.${p.name} = chosen_${p.name};`).join('\n')}` : ''}
${score ? `  ${plan.result} made = ${call('_at_seconds', 'seconds')};` : `  ${plan.result} made;
  if (progress < 1.0) {
    made = ${call('_faded_at_seconds', 'clip_before, clock_before + copy_own.z, clip_number, seconds, progress')};
  } else {
    made = ${call('_at_seconds', 'clip_number, seconds')};
  }`}
  posed = made.position;
  posed_normal = made.normal;
  row_is_right = ${plan.testRow ? `${plan.identifier}_reads_right(${plan.textures.join(', ')}) ? 1.0 : 0.0` : '1.0'};
  vec3 here = transpose(axes) * posed * metres;
  world_normal = turn * (transpose(axes) * posed_normal);
  gl_Position = view_to_clip * vec4(copy_place.xyz + copy_scale * (turn * here), 1.0);
  base_uv = ${plan.baseUv ? plan.baseUv + (plan.shiftsUv ? ' + made.uv_shift' : '') : 'vec2(0.0)'};
  tint = ${this.mesh.attributes.COLOR_0 && plan.attributes.some(a => a.gltf === 'COLOR_0') ? 'vertex_colour' : 'vec4(1.0)'};
}`;
    const fragment = `#version 300 es
precision highp float;
in vec3 world_normal;
in vec2 base_uv;
in vec4 tint;
uniform vec4 base_colour;
uniform sampler2D base_image;
uniform float cutoff;
uniform bool v_from_below, tinted;
out vec4 colour;
void main() {
  vec2 uv = v_from_below ? vec2(base_uv.x, 1.0 - base_uv.y) : base_uv;
  vec4 base = base_colour * texture(base_image, uv) * (tinted ? tint : vec4(1.0));
  if (base.a < cutoff) discard;
  vec3 n = normalize(gl_FrontFacing ? world_normal : -world_normal);
  float key = max(dot(n, normalize(vec3(0.45, 0.8, 0.5))), 0.0), sky = 0.5 + 0.5 * n.y;
  vec3 lit = base.rgb * (0.85 * key * vec3(1.0, 0.96, 0.9) + mix(vec3(0.16, 0.15, 0.15), vec3(0.36, 0.42, 0.46), sky));
  colour = vec4(pow(lit, vec3(1.0 / 2.2)), 1.0);
}`;
    this.program = this.link(vertex, fragment, ['posed', 'posed_normal', 'row_is_right']);
    this.places = {};
    for (let i = gl.getProgramParameter(this.program, gl.ACTIVE_UNIFORMS) - 1; i >= 0; --i) {
      const name = gl.getActiveUniform(this.program, i).name;
      this.places[name] = gl.getUniformLocation(this.program, name);
    }
    this.chosen = Object.fromEntries(parameters.map(p => [p.name, p.default]));
  }

  /** A program of two stages; `captured`: what of the first can be read back. */
  link(vertex, fragment, captured) {
    const {gl} = this, program = gl.createProgram();
    for (const [kind, text] of [[gl.VERTEX_SHADER, vertex], [gl.FRAGMENT_SHADER, fragment]]) {
      const shader = gl.createShader(kind);
      gl.shaderSource(shader, text);
      gl.compileShader(shader);
      if (!gl.getShaderParameter(shader, gl.COMPILE_STATUS)) {
        throw new Error('the code does not compile: ' + gl.getShaderInfoLog(shader));
      }
      gl.attachShader(program, shader);
    }
    if (captured.length) gl.transformFeedbackVaryings(program, captured, gl.INTERLEAVED_ATTRIBS);
    gl.linkProgram(program);
    if (!gl.getProgramParameter(program, gl.LINK_STATUS)) throw new Error(gl.getProgramInfoLog(program));
    return program;
  }

  /** All textures: nearest, clamped, no mips, linear values, every bit. */
  async takeTextures(bytesOf) {
    const {gl, plan} = this;
    this.textures = [];
    this.textureBytes = 0;
    const most = gl.getParameter(gl.MAX_TEXTURE_SIZE);
    for (const file of plan.textureFiles) {
      const image = await (file.endsWith('.exr') ? readExr : readPng)(bytesOf(file));
      if (image.width > most || image.height > most) {
        throw new Error(`${file} is ${image.width} × ${image.height} texels, this graphics card takes ${most}`);
      }
      const four = new (image.texels.constructor)(image.width * image.height * 4);
      for (let y = 0; y < image.height; ++y) {
        const row = this.target.first_row === 'bottom' ? image.height - 1 - y : y;
        for (let x = 0; x < image.width; ++x) {
          for (let c = 0; c < image.channels; ++c) {
            four[4 * (row * image.width + x) + c] = image.texels[(y * image.width + x) * image.channels + c];
          }
        }
      }
      const bytes = four instanceof Uint8Array, texture = gl.createTexture();
      gl.bindTexture(gl.TEXTURE_2D, texture);
      gl.texImage2D(gl.TEXTURE_2D, 0, bytes ? gl.RGBA8 : gl.RGBA32F, image.width, image.height, 0, gl.RGBA, bytes ? gl.UNSIGNED_BYTE : gl.FLOAT, four);
      for (const side of [gl.TEXTURE_MIN_FILTER, gl.TEXTURE_MAG_FILTER]) gl.texParameteri(gl.TEXTURE_2D, side, gl.NEAREST);
      for (const side of [gl.TEXTURE_WRAP_S, gl.TEXTURE_WRAP_T]) gl.texParameteri(gl.TEXTURE_2D, side, gl.CLAMP_TO_EDGE);
      this.textures.push(texture);
      this.textureBytes += four.byteLength;
    }
  }

  async takeMaterials(glb) {
    const {gl} = this, white = gl.createTexture();
    gl.bindTexture(gl.TEXTURE_2D, white);
    gl.texImage2D(gl.TEXTURE_2D, 0, gl.RGBA8, 1, 1, 0, gl.RGBA, gl.UNSIGNED_BYTE, new Uint8Array(4).fill(255));
    this.materials = [];
    for (const draw of this.mesh.draws) {
      const given = (glb.json.materials || [])[draw.material] || {}, base = given.pbrMetallicRoughness || {};
      const made = {colour: base.baseColorFactor || [0.72, 0.72, 0.7, 1], image: white, cutoff: 0, twoSided: !!given.doubleSided};
      if (given.alphaMode === 'MASK') made.cutoff = given.alphaCutoff === undefined ? 0.5 : given.alphaCutoff;
      if (base.baseColorTexture) {
        const image = glb.json.images[glb.json.textures[base.baseColorTexture.index].source];
        const place = glb.json.bufferViews[image.bufferView], from = place.byteOffset || 0;
        const bitmap = await createImageBitmap(new Blob([glb.data.subarray(from, from + place.byteLength)], {type: image.mimeType}),
                                               {premultiplyAlpha: 'none', colorSpaceConversion: 'none'});
        made.image = gl.createTexture();
        gl.bindTexture(gl.TEXTURE_2D, made.image);
        gl.texImage2D(gl.TEXTURE_2D, 0, gl.SRGB8_ALPHA8, gl.RGBA, gl.UNSIGNED_BYTE, bitmap);
        gl.generateMipmap(gl.TEXTURE_2D);
      }
      this.materials.push(made);
    }
  }

  /** The mesh as the target's importer has it. */
  takeMesh() {
    const {gl, mesh, plan, target} = this;
    this.array = gl.createVertexArray();
    gl.bindVertexArray(this.array);
    plan.attributes.forEach((attribute, location) => {
      const own = mesh.attributes[attribute.gltf];
      if (!own) throw new Error('the mesh has no ' + attribute.gltf);
      let values = own.values;
      if (attribute.gltf === 'POSITION' || attribute.gltf === 'NORMAL') {
        values = new Float32Array(values.length);
        const unit = attribute.gltf === 'NORMAL' ? target.unit_metres : 1;
        for (let v = 0; v < mesh.vertices; ++v) {
          values.set(this.there(own.values.subarray(3 * v, 3 * v + 3)).map(c => c * unit), 3 * v);
        }
      } else if (attribute.gltf.startsWith('TEXCOORD') && target.uv_origin === 'bottom-left') {
        values = values.map((value, i) => i % 2 ? 1 - value : value);
      }
      this.feed(location, own.size, values);
    });
    gl.bindBuffer(gl.ELEMENT_ARRAY_BUFFER, gl.createBuffer());
    gl.bufferData(gl.ELEMENT_ARRAY_BUFFER, mesh.indices, gl.STATIC_DRAW);
    gl.bindVertexArray(null);
  }
  feed(location, size, values, buffer = this.gl.createBuffer()) {
    const gl = this.gl;
    gl.bindBuffer(gl.ARRAY_BUFFER, buffer);
    gl.bufferData(gl.ARRAY_BUFFER, values, gl.STATIC_DRAW);
    gl.enableVertexAttribArray(location);
    gl.vertexAttribPointer(location, size, gl.FLOAT, false, 0, 0);
    return buffer;
  }

  /** Copies in rows: each is turned, sized and started by a number of its own. */
  setCopies(count) {
    const {gl} = this, box = this.manifest.bounds;
    const low = this.here(box.min), high = this.here(box.max), side = Math.ceil(Math.sqrt(count));
    this.low = low.map((v, c) => Math.min(v, high[c]));
    this.high = high.map((v, c) => Math.max(v, low[c]));
    const step = 1.25 * Math.max(this.high[0] - this.low[0], this.high[2] - this.low[2], 1e-6);
    const places = new Float32Array(4 * count), own = new Float32Array(3 * count);
    for (let i = 0; i < count; ++i) {
      const any = purpose => hashed(1, i, purpose);
      places.set(count === 1 ? [0, 0, 0, 1]
                             : [step * (i % side - (side - 1) / 2), 0, step * (Math.floor(i / side) - (side - 1) / 2), 0.85 + 0.3 * any(kPurpose.size)], 4 * i);
      own.set(count === 1 ? [0, 0, 0] : [6.2832 * any(kPurpose.turn), any(kPurpose.id), 10 * any(kPurpose.start)], 3 * i);
    }
    this.copies = count;
    this.spread = step * (side - 1) / 2;
    this.takeGround();
    gl.bindVertexArray(this.array);
    this.placeBuffer = this.feed(14, 4, places, this.placeBuffer);
    this.ownBuffer = this.feed(15, 3, own, this.ownBuffer);
    gl.vertexAttribDivisor(14, 1);
    gl.vertexAttribDivisor(15, 1);
    gl.bindVertexArray(null);
  }

  /** A grid at the lowest that the mesh reaches, of 1, 2 or 5 times a power of ten metres. */
  takeGround() {
    const {gl, low, high, spread} = this, reach = spread + Math.hypot(high[0] - low[0], high[1] - low[1], high[2] - low[2]);
    const power = 10 ** Math.floor(Math.log10(reach / 4)), cell = [1, 2, 5, 10].map(k => k * power).find(c => c >= reach / 8);
    const lines = [], last = Math.ceil(2 * reach / cell) * cell;
    const middle = [0, 2].map(c => Math.round((low[c] + high[c]) / 2 / cell) * cell);
    for (let at = -last; at <= last + cell / 2; at += cell) {
      lines.push(middle[0] + at, low[1], middle[1] - last, middle[0] + at, low[1], middle[1] + last,
                 middle[0] - last, low[1], middle[1] + at, middle[0] + last, low[1], middle[1] + at);
    }
    if (!this.ground) {
      this.ground = {program: this.link(`#version 300 es
layout(location = 0) in vec3 position;
uniform mat4 view_to_clip;
out vec3 place;
void main() {
  gl_Position = view_to_clip * vec4(position, 1.0);
  place = position;
}`, `#version 300 es
precision highp float;
in vec3 place;
uniform vec3 middle;
uniform float reach;
out vec4 colour;
void main() { // it fades with distance, and a canvas takes colours that are multiplied with their alpha
  colour = vec4(mix(vec3(0.075, 0.157, 0.188), vec3(0.21, 0.34, 0.39), max(1.0 - distance(place, middle) / (2.0 * reach), 0.0)), 1.0);
}`, []), array: gl.createVertexArray()};
    }
    Object.assign(this.ground, {count: lines.length / 3, reach, middle: [middle[0], low[1], middle[1]]});
    gl.bindVertexArray(this.ground.array);
    this.ground.buffer = this.feed(0, 3, new Float32Array(lines), this.ground.buffer);
    gl.bindVertexArray(null);
  }
  drawGround(clip) {
    const {gl, ground} = this, place = name => gl.getUniformLocation(ground.program, name);
    gl.useProgram(ground.program);
    gl.uniformMatrix4fv(place('view_to_clip'), false, clip);
    gl.uniform3fv(place('middle'), ground.middle);
    gl.uniform1f(place('reach'), ground.reach);
    gl.bindVertexArray(ground.array);
    gl.drawArrays(gl.LINES, 0, ground.count);
    gl.bindVertexArray(null);
  }

  /** `moment`: {clip, seconds, before, secondsBefore, progress}; progress 1: no cross-fade. */
  use(moment, clip) {
    const {gl, places} = this;
    gl.useProgram(this.program);
    gl.bindVertexArray(this.array);
    this.textures.forEach((texture, i) => {
      gl.activeTexture(gl.TEXTURE0 + i);
      gl.bindTexture(gl.TEXTURE_2D, texture);
      gl.uniform1i(places[this.plan.textures[i]], i);
    });
    const columns = [0, 1, 2].flatMap(c => this.axes.map(row => row[c]));
    gl.uniformMatrix3fv(places.axes, false, columns);
    gl.uniform1f(places.metres, this.target.unit_metres);
    gl.uniformMatrix4fv(places.view_to_clip, false, clip);
    gl.uniform1f(places.clock, moment.seconds);
    if (places.progress) {
      gl.uniform1i(places.clip_number, moment.clip);
      gl.uniform1i(places.clip_before, moment.before);
      gl.uniform1f(places.clock_before, moment.secondsBefore);
      gl.uniform1f(places.progress, moment.progress);
    }
    for (const parameter of this.plan.kind === 'score' ? this.manifest.score.parameters : []) {
      const place = places['chosen_' + parameter.name], value = this.chosen[parameter.name];
      parameter.whole ? gl.uniform1i(place, value) : gl.uniform1f(place, value);
    }
  }

  draw(moment, clip) {
    const {gl, places} = this, unit = this.textures.length;
    gl.enable(gl.DEPTH_TEST);
    this.use(moment, clip);
    gl.uniform1i(places.base_image, unit);
    gl.uniform1i(places.v_from_below, this.target.uv_origin === 'bottom-left' ? 1 : 0);
    gl.uniform1i(places.tinted, this.plan.coloured ? 1 : 0);
    this.mesh.draws.forEach((draw, i) => {
      const material = this.materials[i];
      material.twoSided ? gl.disable(gl.CULL_FACE) : gl.enable(gl.CULL_FACE);
      gl.activeTexture(gl.TEXTURE0 + unit);
      gl.bindTexture(gl.TEXTURE_2D, material.image);
      gl.uniform4fv(places.base_colour, material.colour);
      gl.uniform1f(places.cutoff, material.cutoff);
      gl.drawElementsInstanced(gl.TRIANGLES, draw.count, gl.UNSIGNED_INT, 4 * draw.first, this.copies);
    });
    gl.bindVertexArray(null);
  }

  /** Where the code puts every vertex of a copy that stands at the origin, and its normals, as the engine
   *  would have them: read back from the graphics card. */
  verticesAt(moment) {
    const {gl} = this, count = this.mesh.vertices, copies = this.copies;
    this.setCopies(1);
    const made = gl.createBuffer(), capture = gl.createTransformFeedback();
    this.use(moment, new Float32Array(16));
    gl.bindTransformFeedback(gl.TRANSFORM_FEEDBACK, capture);
    gl.bindBufferBase(gl.TRANSFORM_FEEDBACK_BUFFER, 0, made);
    gl.bufferData(gl.TRANSFORM_FEEDBACK_BUFFER, 28 * count, gl.STREAM_READ);
    gl.enable(gl.RASTERIZER_DISCARD);
    gl.beginTransformFeedback(gl.POINTS);
    gl.drawArraysInstanced(gl.POINTS, 0, count, 1);
    gl.endTransformFeedback();
    gl.disable(gl.RASTERIZER_DISCARD);
    gl.bindTransformFeedback(gl.TRANSFORM_FEEDBACK, null);
    const all = new Float32Array(7 * count);
    gl.bindBuffer(gl.TRANSFORM_FEEDBACK_BUFFER, made);
    gl.getBufferSubData(gl.TRANSFORM_FEEDBACK_BUFFER, 0, all);
    gl.deleteBuffer(made);
    gl.deleteTransformFeedback(capture);
    gl.bindVertexArray(null);
    this.setCopies(copies);
    const positions = new Float32Array(3 * count), normals = new Float32Array(3 * count);
    for (let v = 0; v < count; ++v) {
      positions.set(all.subarray(7 * v, 7 * v + 3), 3 * v);
      normals.set(all.subarray(7 * v + 3, 7 * v + 6), 3 * v);
    }
    return {positions, normals, rowIsRight: all[6] === 1};
  }

  /** The farthest that a vertex of the bundle's own test is from its place, in metres, with the parameters as
   *  the score has them; infinite where the textures' test rows are not what was written. */
  compareWithTest(test) {
    const chosen = this.chosen;
    if (this.plan.kind === 'score') {
      this.chosen = Object.fromEntries(this.manifest.score.parameters.map(p => [p.name, p.default]));
    }
    let worst = 0;
    for (const moment of test.moments) {
      const read = this.verticesAt({clip: moment.clip || 0, seconds: moment.seconds, before: 0, secondsBefore: 0, progress: 1});
      const got = read.positions;
      if (!read.rowIsRight) return Infinity;
      test.vertices.forEach((v, i) => {
        const apart = Math.hypot(...moment.positions[i].map((p, c) => got[3 * v + c] - p));
        worst = Math.max(worst, Number.isFinite(apart) ? apart * this.target.unit_metres : Infinity);
      });
    }
    this.chosen = chosen;
    return worst;
  }
}
