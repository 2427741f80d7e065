struct Ask { rounds: u32, seed: u32, spoilt: u32, unused: u32 }
struct Entry { at: vec4<u32>, expected: vec4<u32>, read: vec4<u32> }
struct Answer { wrong: atomic<u32>, unused_1: u32, unused_2: u32, unused_3: u32, entries: array<Entry, ${MOST_TOLD}>,
                digests: array<vec2<u32>> }
@group(0) @binding(0) var<storage, read_write> answer: Answer;
@group(0) @binding(1) var<uniform> ask: Ask;
var<workgroup> sums: array<atomic<u32>, 2>;

const M = ${MODULUS}.0;
const A = vec4<f32>(${FACTORS});
const B = vec4<f32>(${STEPS});
const UNDO = vec4<f32>(${UNDOING});

fn reduced(p: vec4<f32>) -> vec4<f32> {
    var r = p - floor(p * (1.0 / M)) * M;
    r = select(r, r + M, r < vec4<f32>(0.0));
    return select(r, r - M, r >= vec4<f32>(M));
}
fn turned(x: u32, by: u32) -> u32 { return (x << by) | (x >> (32u - by)); }
fn on(v: vec4<u32>, k: u32) -> vec4<u32> {
    let a = v.x + ((v.y * 0x9E3779B1u) ^ k);
    let b = turned(v.y ^ a, 13u);
    let c = v.z + ((v.w * 0x85EBCA6Bu) ^ a);
    let d = turned(v.w ^ c, 17u);
    return vec4<u32>(b, c, d, a);
}
fn back(v: vec4<u32>, k: u32) -> vec4<u32> {
    let a = v.w;
    let w = turned(v.z, 15u) ^ v.y;
    let z = v.y - ((w * 0x85EBCA6Bu) ^ a);
    let y = turned(v.x, 19u) ^ a;
    return vec4<u32>(a - ((y * 0x9E3779B1u) ^ k), y, z, w);
}
@compute @workgroup_size(${WORKGROUP})
fn main(@builtin(workgroup_id) group: vec3<u32>, @builtin(local_invocation_index) local: u32) {
    let at = group.x * ${WORKGROUP}u + local;
    let seed = at * 4u + ask.seed;
    let whole = vec4<u32>(mixed(seed), mixed(seed + 1u), mixed(seed + 2u), mixed(seed + 3u));
    let number = vec4<f32>(whole % vec4<u32>(${MODULUS}u));
    var v = whole;
    var f = number;
    for (var k = 0u; k < ask.rounds; k = k + 1u) {
        v = on(v, k);
        f = reduced(fma(f, A, B)).yzwx;
    }
    // To try what looks: a bit of one invocation is turned over.
    if (at == ask.spoilt) { v.x = v.x ^ 1u; }
    let bits = bitcast<vec4<u32>>(sqrt(f + 1.0) + sin(f) + exp2(f * 0.0009765625) + log2(f + 1.0));
    let all = v ^ bitcast<vec4<u32>>(f) ^ bits;
    if (local == 0u) { atomicStore(&sums[0], 0u); atomicStore(&sums[1], 0u); }
    workgroupBarrier();
    let own = mixed(all.x ^ mixed(all.y ^ mixed(all.z ^ mixed(all.w ^ local))));
    atomicXor(&sums[0], own);
    atomicAdd(&sums[1], own ^ (own >> 7u));
    workgroupBarrier();
    if (local == 0u) { answer.digests[group.x] = vec2<u32>(atomicLoad(&sums[0]), atomicLoad(&sums[1])); }
    for (var k = ask.rounds; k > 0u; k = k - 1u) {
        v = back(v, k - 1u);
        let p = f.wxyz + (vec4<f32>(M) - B);
        f = reduced(select(p, p - M, p >= vec4<f32>(M)) * UNDO);
    }
    if (any(v != whole)) { tell(at, whole, v); } else if (any(f != number)) {
        tell(at, bitcast<vec4<u32>>(number), bitcast<vec4<u32>>(f));
    }
}
fn tell(at: u32, expected: vec4<u32>, read: vec4<u32>) {
    let place = atomicAdd(&answer.wrong, 1u);
    if (place < ${MOST_TOLD}u) { answer.entries[place] = Entry(vec4<u32>(at), expected, read); }
}
