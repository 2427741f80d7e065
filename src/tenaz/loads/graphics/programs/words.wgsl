struct Ask { base: vec2<u32>, first: u32, count: u32, words: array<vec4<u32>, 3>, unused_1: u32, unused_2: u32 }
struct Entry { at: vec4<u32>, expected: vec4<u32>, read: vec4<u32> }
struct Answer { wrong: atomic<u32>, unused_1: u32, unused_2: u32, unused_3: u32, entries: array<Entry, ${MOST_TOLD}> }
@group(0) @binding(0) var<storage, read_write> memory: array<vec4<u32>>;
@group(0) @binding(1) var<storage, read_write> answer: Answer;
@group(0) @binding(2) var<uniform> ask: Ask;

// What stands at a place, before the parameter.
fn pattern(at: u32) -> vec4<u32> {
    ${PATTERN}
}

fn tell(at: u32, expected: vec4<u32>, read: vec4<u32>) {
    let place = atomicAdd(&answer.wrong, 1u);
    if (place < ${MOST_TOLD}u) { answer.entries[place] = Entry(vec4<u32>(at), expected, read); }
}
