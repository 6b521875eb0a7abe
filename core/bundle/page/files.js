// Reads the files of a bundle: GLB, PNG and EXR, from their bytes alone. Written to be read: it shows what a
// client must do to get every bit of a texture, which a canvas would not give (it keeps 8 of 16 bits, and may
// multiply with alpha or convert colours).

/** Undoes zlib's compression (RFC 1950). */
async function inflate(bytes) {
  const stream = new Blob([bytes]).stream().pipeThrough(new DecompressionStream('deflate'));
  return new Uint8Array(await new Response(stream).arrayBuffer());
}

/** A GLB's JSON and its bytes. */
function readGlb(bytes) {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  if (view.getUint32(0, true) !== 0x46546c67) throw new Error('the mesh is no GLB');
  let json = null, data = null;
  for (let at = 12; at + 8 <= view.byteLength;) {
    const length = view.getUint32(at, true), kind = view.getUint32(at + 4, true);
    const chunk = bytes.subarray(at + 8, at + 8 + length);
    if (kind === 0x4e4f534a) json = JSON.parse(new TextDecoder().decode(chunk));
    if (kind === 0x004e4942) data = chunk;
    at += 8 + length;
  }
  return {json, data};
}

/** An accessor of a GLB as floats, or as whole numbers where it holds indices: `count` × `size`. */
function readAccessor(glb, index) {
  const accessor = glb.json.accessors[index], place = glb.json.bufferViews[accessor.bufferView];
  const size = {SCALAR: 1, VEC2: 2, VEC3: 3, VEC4: 4}[accessor.type];
  const [width, read, most] = {
    5121: [1, 'getUint8', 255], 5123: [2, 'getUint16', 65535], 5125: [4, 'getUint32', 1], 5126: [4, 'getFloat32', 1],
  }[accessor.componentType];
  const stride = place.byteStride || width * size;
  const start = (place.byteOffset || 0) + (accessor.byteOffset || 0);
  const view = new DataView(glb.data.buffer, glb.data.byteOffset, glb.data.byteLength);
  const values = accessor.type === 'SCALAR' && accessor.componentType !== 5126
    ? new Uint32Array(accessor.count) : new Float32Array(accessor.count * size);
  const scale = accessor.normalized ? 1 / most : 1;
  for (let i = 0; i < accessor.count; ++i) {
    for (let c = 0; c < size; ++c) values[i * size + c] = view[read](start + i * stride + c * width, true) * scale;
  }
  return {values, size, count: accessor.count};
}

/** The whole mesh: one array for each attribute, indices, and a draw for each material. */
function readMesh(glb) {
  const attributes = {}, indices = [], draws = [];
  let vertices = 0;
  for (const primitive of glb.json.meshes[0].primitives) {
    const before = vertices, first = indices.length;
    for (const [name, accessor] of Object.entries(primitive.attributes)) {
      const read = readAccessor(glb, accessor);
      const all = attributes[name] || (attributes[name] = {size: read.size, parts: []});
      all.parts.push([before, read]);
      vertices = Math.max(vertices, before + read.count);
    }
    for (const index of readAccessor(glb, primitive.indices).values) indices.push(before + index);
    draws.push({first, count: indices.length - first, material: primitive.material});
  }
  for (const all of Object.values(attributes)) {
    all.values = new Float32Array(vertices * all.size).fill(all.size === 4 ? 1 : 0);
    for (const [before, read] of all.parts) {
      for (let i = 0; i < read.count; ++i) { // colours may have three numbers here and four there
        for (let c = 0; c < read.size; ++c) all.values[(before + i) * all.size + c] = read.values[i * read.size + c];
      }
    }
    delete all.parts;
  }
  return {attributes, indices: new Uint32Array(indices), draws, vertices};
}

/** A PNG of 8 or 16 bits, without interlacing: rows from the top, every bit as it was written. */
async function readPng(bytes) {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const packed = [];
  let width = 0, height = 0, depth = 0, channels = 0;
  for (let at = 8; at < bytes.length;) {
    const length = view.getUint32(at), kind = String.fromCharCode(...bytes.subarray(at + 4, at + 8));
    if (kind === 'IHDR') {
      width = view.getUint32(at + 8);
      height = view.getUint32(at + 12);
      depth = bytes[at + 16];
      channels = {0: 1, 2: 3, 4: 2, 6: 4}[bytes[at + 17]];
      if (!channels || depth < 8 || bytes[at + 20]) throw new Error('a PNG of another kind than bundles have');
    }
    if (kind === 'IDAT') packed.push(bytes.subarray(at + 8, at + 8 + length));
    at += 12 + length;
  }
  const rows = await inflate(new Blob(packed));
  const texel = channels * depth / 8, row = width * texel;
  const raw = new Uint8Array(height * row);
  for (let y = 0; y < height; ++y) { // what each row's filter took away is added again (PNG, 9)
    const filter = rows[y * (row + 1)];
    for (let x = 0; x < row; ++x) {
      const left = x >= texel ? raw[y * row + x - texel] : 0, up = y ? raw[(y - 1) * row + x] : 0;
      const corner = x >= texel && y ? raw[(y - 1) * row + x - texel] : 0;
      let guess = [0, left, up, (left + up) >> 1][filter];
      if (filter === 4) {
        const p = left + up - corner;
        const far = [Math.abs(p - left), Math.abs(p - up), Math.abs(p - corner)];
        guess = far[0] <= far[1] && far[0] <= far[2] ? left : far[1] <= far[2] ? up : corner;
      }
      raw[y * row + x] = rows[y * (row + 1) + 1 + x] + guess;
    }
  }
  if (depth === 8) return {width, height, channels, texels: raw};
  const texels = new Float32Array(width * height * channels);
  for (let i = 0; i < texels.length; ++i) texels[i] = (256 * raw[2 * i] + raw[2 * i + 1]) / 65535;
  return {width, height, channels, texels};
}

function floatOfHalf(half) {
  const sign = half & 0x8000 ? -1 : 1, exponent = (half >> 10) & 31, fraction = half & 1023;
  if (exponent === 31) return fraction ? NaN : sign * Infinity;
  return exponent ? sign * 2 ** (exponent - 15) * (1 + fraction / 1024) : sign * 2 ** -14 * (fraction / 1024);
}

/** An EXR of scan lines, packed by zip, of half or float channels: texels as R G B (A). */
async function readExr(bytes) {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  let at = 8;
  const text = () => {
    const begin = at;
    while (bytes[at]) ++at;
    return new TextDecoder().decode(bytes.subarray(begin, at++));
  };
  let channels = [], packing = 0, width = 0, height = 0;
  for (let name = text(); name; name = text()) {
    text(); // the attribute's type
    const next = at + 4 + view.getInt32(at, true);
    at += 4;
    if (name === 'channels') {
      while (bytes[at]) {
        channels.push({name: text(), float: view.getInt32(at, true) === 2});
        at += 16;
      }
    } else if (name === 'compression') {
      packing = bytes[at];
    } else if (name === 'dataWindow') {
      width = view.getInt32(at + 8, true) - view.getInt32(at, true) + 1;
      height = view.getInt32(at + 12, true) - view.getInt32(at + 4, true) + 1;
    }
    at = next;
  }
  if (packing !== 3) throw new Error('an EXR that is packed otherwise than bundles are');
  const lines = 16, used = channels.some(c => c.name === 'A') ? 4 : 3;
  const lineBytes = channels.reduce((sum, c) => sum + width * (c.float ? 4 : 2), 0);
  const texels = new Float32Array(width * height * used);
  at += 8 * Math.ceil(height / lines); // where the blocks begin: they follow each other
  for (let y = 0; y < height; y += lines) {
    const size = view.getInt32(at + 4, true), count = Math.min(lines, height - y);
    const block = await unpackExr(bytes.subarray(at + 8, at + 8 + size), count * lineBytes);
    at += 8 + size;
    const values = new DataView(block.buffer, block.byteOffset);
    let from = 0;
    for (let line = 0; line < count; ++line) {
      for (const channel of channels) { // in the order of the alphabet
        const c = 'RGBA'.indexOf(channel.name);
        for (let x = 0; x < width; ++x, from += channel.float ? 4 : 2) {
          texels[((y + line) * width + x) * used + c] =
            channel.float ? values.getFloat32(from, true) : floatOfHalf(values.getUint16(from, true));
        }
      }
    }
  }
  return {width, height, channels: used, texels};
}

/** Zip of EXR: after inflating, each byte is the difference from the one before, and the two halves interleave. */
async function unpackExr(bytes, size) {
  if (bytes.length === size) return bytes; // it did not get smaller
  const packed = await inflate(bytes), block = new Uint8Array(size), half = (size + 1) >> 1;
  for (let i = 1; i < size; ++i) packed[i] = packed[i - 1] + packed[i] - 128;
  for (let i = 0; i < size; ++i) block[i] = packed[(i >> 1) + (i & 1 ? half : 0)];
  return block;
}
