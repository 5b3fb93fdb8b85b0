// node read_glb.mjs FILE.glb LIST.jsonl: reads a scene's .glb without any library, and holds it against what
// `mellow list SCENE --json` says of the same scene: every object once, with its name, below the same parent, at the
// same place; every mesh with as many triangles as its accessors say, materials that exist, instances that fit.
import fs from "node:fs";

const problems = [];
const wrong = (text) => problems.push(text);

function readGlb(file) {
  const bytes = fs.readFileSync(file);
  if (bytes.toString("latin1", 0, 4) !== "glTF" || bytes.readUInt32LE(4) !== 2) throw new Error(`${file}: is no .glb`);
  let at = 12, json = null, binary = Buffer.alloc(0);
  while (at < bytes.readUInt32LE(8)) {
    const size = bytes.readUInt32LE(at), type = bytes.readUInt32LE(at + 4);
    const chunk = bytes.subarray(at + 8, at + 8 + size);
    if (type === 0x4e4f534a) json = JSON.parse(chunk.toString("utf8"));
    if (type === 0x004e4942) binary = chunk;
    at += 8 + size;
  }
  return { json, binary };
}

const [file, listFile] = process.argv.slice(2);
const { json, binary } = readGlb(file);
const parts = { SCALAR: 1, VEC2: 2, VEC3: 3, VEC4: 4 };

function floats(index) {
  const accessor = json.accessors[index], view = json.bufferViews[accessor.bufferView], n = parts[accessor.type];
  if (accessor.componentType !== 5126) wrong(`accessor ${index} holds no floats`);
  const from = (view.byteOffset ?? 0) + (accessor.byteOffset ?? 0), out = [];
  for (let i = 0; i < accessor.count; ++i) {
    const one = [];
    for (let k = 0; k < n; ++k) one.push(binary.readFloatLE(from + 4 * (i * n + k)));
    out.push(one);
  }
  return out;
}

// 4 x 4, by column, as glTF has them.
const identity = [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1];
function times(a, b) {
  const c = new Array(16).fill(0);
  for (let col = 0; col < 4; ++col)
    for (let row = 0; row < 4; ++row)
      for (let k = 0; k < 4; ++k) c[col * 4 + row] += a[k * 4 + row] * b[col * 4 + k];
  return c;
}
function matrixOf({ matrix, translation: t = [0, 0, 0], rotation: q = [0, 0, 0, 1], scale: s = [1, 1, 1] }) {
  if (matrix) return matrix;
  const [x, y, z, w] = q;
  return [
    (1 - 2 * (y * y + z * z)) * s[0], 2 * (x * y + z * w) * s[0], 2 * (x * z - y * w) * s[0], 0,
    2 * (x * y - z * w) * s[1], (1 - 2 * (x * x + z * z)) * s[1], 2 * (y * z + x * w) * s[1], 0,
    2 * (x * z + y * w) * s[2], 2 * (y * z - x * w) * s[2], (1 - 2 * (x * x + y * y)) * s[2], 0,
    t[0], t[1], t[2], 1,
  ];
}

const found = new Map(); // id: {name, parent, place}
let triangles = 0, instances = 0;
function meshOf(index) {
  for (const primitive of json.meshes[index].primitives) {
    triangles += json.accessors[primitive.indices].count / 3;
    const corners = json.accessors[primitive.attributes.POSITION].count;
    for (const [name, accessor] of Object.entries(primitive.attributes))
      if (json.accessors[accessor].count !== corners) wrong(`mesh ${index}: ${name} has another count than its corners`);
    if (!json.materials[primitive.material]) wrong(`mesh ${index}: its material does not exist`);
  }
}
function add(id, entry) {
  if (found.has(id)) wrong(`${entry.name} (${id}) is there twice`);
  found.set(id, entry);
}
function visit(index, world, parent) {
  const node = json.nodes[index], own = node.extras?.mellow;
  const here = times(world, matrixOf(node));
  if (node.mesh !== undefined) meshOf(node.mesh);
  const many = node.extensions?.EXT_mesh_gpu_instancing?.attributes;
  if (many) {
    const columns = Object.fromEntries(Object.entries(many).map(([key, accessor]) => [key, floats(accessor)]));
    const counts = new Set(Object.values(columns).map((column) => column.length));
    if (counts.size !== 1) wrong(`${node.name}: its instances are not as many in each column`);
    own?.instances?.forEach((one, i) => {
      const pose = { translation: columns.TRANSLATION?.[i], rotation: columns.ROTATION?.[i], scale: columns.SCALE?.[i] };
      add(one.id, { name: one.name, parent, place: times(here, matrixOf(pose)).slice(12, 15) });
      if (i > 0) meshOf(node.mesh);
    });
    instances += [...counts][0];
    return;
  }
  if (own?.id) add(own.id, { name: node.name, parent, place: here.slice(12, 15) });
  for (const child of node.children ?? []) visit(child, here, own?.id ?? parent);
}
for (const root of json.scenes[json.scene].nodes) visit(root, identity, null);

let listed = 0;
for (const line of fs.readFileSync(listFile, "utf8").split("\n").filter(Boolean)) {
  const object = JSON.parse(line), there = found.get(object.id);
  ++listed;
  if (!there) {
    wrong(`${object.name} (${object.id}) is missing`);
    continue;
  }
  if (there.name !== object.name) wrong(`${object.name} is called ${there.name}`);
  if (there.parent !== object.parent) wrong(`${object.name} lies below ${there.parent}, not ${object.parent}`);
  const off = Math.hypot(...there.place.map((v, k) => v - object.world.position[k]));
  if (!(off < 1e-3)) wrong(`${object.name} stands ${off.toFixed(4)} m from its place`);
}
if (found.size !== listed) wrong(`${found.size} objects are in the file, ${listed} in the list`);
for (const problem of problems.slice(0, 20)) console.log(problem);
console.log(`${listed} objects, ${triangles} triangles, ${instances} instances: ${problems.length} problems.`);
process.exit(problems.length === 0 ? 0 : 1);
