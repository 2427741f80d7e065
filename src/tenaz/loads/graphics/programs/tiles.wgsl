struct Ask { number: u32, side: u32, unused_1: u32, unused_2: u32 }
@group(0) @binding(0) var drawn: texture_2d<f32>;
@group(0) @binding(1) var<storage, read_write> digests: array<vec2<u32>>;
@group(0) @binding(2) var<uniform> ask: Ask;
var<workgroup> sums: array<atomic<u32>, 2>;
@compute @workgroup_size(16, 16)
fn main(@builtin(workgroup_id) tile: vec3<u32>, @builtin(local_invocation_id) local: vec3<u32>,
        @builtin(local_invocation_index) index: u32) {
    if (index == 0u) { atomicStore(&sums[0], 0u); atomicStore(&sums[1], 0u); }
    workgroupBarrier();
    for (var k = 0u; k < 4u; k = k + 1u) {
        let at = vec2<u32>(local.x + 16u * (k & 1u), local.y + 16u * (k >> 1u));
        let pixel = pack4x8unorm(textureLoad(drawn, tile.xy * ${TILE}u + at, 0));
        let own = mixed(pixel ^ mixed(at.y * ${TILE}u + at.x + 1u));
        atomicXor(&sums[0], own);
        atomicAdd(&sums[1], mixed(own ^ 0x5bd1e995u));
    }
    workgroupBarrier();
    if (index == 0u) {
        digests[tile.y * (ask.side / ${TILE}u) + tile.x] = vec2<u32>(atomicLoad(&sums[0]), atomicLoad(&sums[1]));
    }
}
