// Each word is read, and then written anew where that is asked. Nothing is decided on the way: whether any was wrong is
// looked at once, at the end. What was wrong is read once more then, to be told with its place, and left as it stands;
// what is right by then came wrong on the way, and only its invocation is known.
@compute @workgroup_size(${WORKGROUP})
fn main(@builtin(workgroup_id) group: vec3<u32>, @builtin(local_invocation_id) local: vec3<u32>) {
    let begin = group.x * ${PIECE_VECTORS}u + local.x;
    var bad = vec4<u32>(0u);
    for (var k = 0u; k < ${EACH}u; k = k + 1u) {
        let at = ${PLACE};
        bad = bad | (memory[at] ^ pattern(at) ^ ask.words[${READ}]);
    }
    if (any(bad != vec4<u32>(0u))) {
        var told = false;
        for (var k = 0u; k < ${EACH}u; k = k + 1u) {
            let at = ${PLACE};
            let right = pattern(at) ^ ask.words[${READ}];
            let read = memory[at];
            if (any(read != right)) {
                tell(at, right, read);
                told = true;
            } else {
                ${WRITE}
            }
        }
        if (!told) { tell(ask.first + begin, bad, bad); }
    } else {
        for (var k = 0u; k < ${EACH}u; k = k + 1u) {
            let at = ${PLACE};
            ${WRITE}
        }
    }
}
