"""Arithmetic on a card that must come back to where it began: whole numbers and floating point, all of it exact.

Each invocation takes its own numbers some rounds forward, by steps of which each can be undone, and the same rounds
back. Floating point goes by whole numbers below 2^24, where every product and sum is exact, so that the order of
operations or a fused multiply-add make no difference. Half-way there is a digest of all, which must be the same each
time; there roots, sines and powers are in it too, which are not exact and yet always the same on one card.
"""

import struct
from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

from tenaz.loads.graphics.opened import OpenCard, Submissions

WORKGROUP = 64
MODULUS = 4093
"""A prime below 2^12: a product of two numbers below it, and one more, is below 2^24."""
FACTORS = (1234, 2777, 3011, 1999)
STEPS = (77, 1313, 2501, 3907)
OPERATIONS = 96
"""Of one round there and back, an invocation's: sums, products, shifts and comparisons, each counted once."""
MOST_TOLD = 32
_HEAD, _ENTRY, _ASK = struct.Struct("<4I"), struct.Struct("<4I4I4I"), struct.Struct("<4I")
DIGEST_BYTES = 8
NOBODY = 0xFFFF_FFFF

_CODE = """
struct Ask { rounds: u32, seed: u32, spoilt: u32, unused: u32 }
struct Entry { at: vec4<u32>, expected: vec4<u32>, read: vec4<u32> }
struct Answer { wrong: atomic<u32>, unused_1: u32, unused_2: u32, unused_3: u32, entries: array<Entry, MOST_TOLD>,
                digests: array<vec2<u32>> }
@group(0) @binding(0) var<storage, read_write> answer: Answer;
@group(0) @binding(1) var<uniform> ask: Ask;
var<workgroup> sums: array<atomic<u32>, 2>;

const M = MODULUS.0;
const A = vec4<f32>(FACTORS);
const B = vec4<f32>(STEPS);
const UNDO = vec4<f32>(UNDOING);

fn mixed(value: u32) -> u32 {
    var x = value;
    x = (x ^ (x >> 16u)) * 0x7FEB352Du;
    x = (x ^ (x >> 15u)) * 0x846CA68Bu;
    return x ^ (x >> 16u);
}
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
@compute @workgroup_size(WORKGROUP)
fn main(@builtin(workgroup_id) group: vec3<u32>, @builtin(local_invocation_index) local: u32) {
    let at = group.x * WORKGROUPu + local;
    let seed = at * 4u + ask.seed;
    let whole = vec4<u32>(mixed(seed), mixed(seed + 1u), mixed(seed + 2u), mixed(seed + 3u));
    let number = vec4<f32>(whole % vec4<u32>(MODULUSu));
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
    if (place < MOST_TOLDu) { answer.entries[place] = Entry(vec4<u32>(at), expected, read); }
}
"""


def code() -> str:
    """The program."""
    undoing = ", ".join(f"{pow(one, -1, MODULUS)}.0" for one in FACTORS)
    numbers = {
        "UNDOING": undoing,
        "FACTORS": ", ".join(f"{one}.0" for one in FACTORS),
        "STEPS": ", ".join(f"{one}.0" for one in STEPS),
        "MODULUS": str(MODULUS),
        "WORKGROUP": str(WORKGROUP),
        "MOST_TOLD": str(MOST_TOLD),
    }
    text = _CODE
    for name, number in numbers.items():
        text = text.replace(name, number)
    return text


@dataclass(frozen=True, slots=True)
class NotBack:
    """An invocation whose numbers did not come back: which, and the first pair that differs as 64-bit words."""

    at: int
    expected: int
    read: int


@dataclass(frozen=True, slots=True)
class Reckoned:
    """What came of one submission: those that did not come back (all counted, some told), and the digests half-way of
    all workgroups, in their order.
    """

    wrong: int
    not_back: tuple[NotBack, ...]
    digests: bytes


def _reckoned(data: bytes) -> Reckoned:
    (wrong, *_) = _HEAD.unpack_from(data)
    told = []
    for number in range(min(wrong, MOST_TOLD)):
        at, _, _, _, *values = _ENTRY.unpack_from(data, _HEAD.size + number * _ENTRY.size)
        pairs = zip(values[:4], values[4:], strict=True)
        place, (expected, read) = next((k, pair) for k, pair in enumerate(pairs) if pair[0] != pair[1])
        told.append(NotBack(at * 4 + place, expected, read))
    told.sort(key=lambda one: one.at)
    return Reckoned(wrong, tuple(told), data[_HEAD.size + MOST_TOLD * _ENTRY.size :])


class Reckoner:
    """Runs rounds of arithmetic on a card, in so many workgroups."""

    def __init__(self, card: OpenCard, groups: int, change: Callable[[str], str] = lambda text: text) -> None:
        self._card, self.groups = card, groups
        size = _HEAD.size + MOST_TOLD * _ENTRY.size + groups * DIGEST_BYTES
        self.submissions = Submissions(card, size)
        self._program = card.program(change(code()))
        self._asked = [card.uniform(_ASK.size) for _ in self.submissions.answers]
        pairs = zip(self.submissions.answers, self._asked, strict=True)
        self._bound = [card.bound(self._program, pair) for pair in pairs]

    def run(self, rounds: int, seed: int, then: Callable[[Reckoned], None], spoilt: int = NOBODY) -> None:
        """So many rounds there and back; ``then`` is told what came of it, in order, while the next is under way. The
        numbers of the ``spoilt`` invocation get a wrong bit half-way.
        """
        slot = self.submissions.slot()
        self._card.device.queue.write_buffer(self._asked[slot], 0, _ASK.pack(rounds, seed, spoilt, 0))

        def encode(encoder: Any) -> None:
            compute = encoder.begin_compute_pass()
            compute.set_pipeline(self._program)
            compute.set_bind_group(0, self._bound[slot])
            compute.dispatch_workgroups(self.groups)
            compute.end()

        self.submissions.submit(encode, lambda data: then(_reckoned(data)))

    def operations(self, rounds: int) -> float:
        """What one submission does."""
        return float(self.groups * WORKGROUP * rounds * OPERATIONS)

    def drain(self) -> None:
        """Wait for all that is under way."""
        self.submissions.drain()
