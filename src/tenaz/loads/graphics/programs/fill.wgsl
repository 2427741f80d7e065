// Each word is written.
@compute @workgroup_size(${WORKGROUP})
fn main(@builtin(workgroup_id) group: vec3<u32>, @builtin(local_invocation_id) local: vec3<u32>) {
    let begin = group.x * ${PIECE_VECTORS}u + local.x;
    for (var k = 0u; k < ${EACH}u; k = k + 1u) {
        let at = ${PLACE};
        memory[at] = pattern(at) ^ ask.words[${WRITTEN}];
    }
}
