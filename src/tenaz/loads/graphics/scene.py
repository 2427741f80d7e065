"""Pictures that a card draws, and what it says itself of each: a digest of every tile.

A picture is made of all that drawing asks of a card: a ground of triangles with depth, lit and covered with a texture
that is filtered; a sky that is mostly arithmetic; discs that are blended over each other in their order. There is
nothing random in it and no time: the same number gives the same picture, on one card to the last bit.
"""

import struct
from collections.abc import Callable
from typing import Any

import numpy as np
from numpy.typing import NDArray

from tenaz.core.loads.kinds import TILE_PX
from tenaz.loads.graphics.opened import OpenCard, Submissions

TILE = TILE_PX
"""Pixels along a side of a tile; a picture's side is a multiple of it."""
NUMBERS = 4
"""Pictures drawn in turn."""
MESH = 96
"""Squares of the ground along a side."""
DISCS = 160
DEPTH, COLOUR = "depth32float", "rgba8unorm"
PIXEL_BYTES = 4
DIGEST_BYTES = 8
ROW_ALIGNED = 256
"""Rows are copied in multiples of so many bytes."""
_ASK = struct.Struct("<4I")

Pixels = NDArray[np.uint32]
"""A picture or a part of it, ``(height, width)``: red in the lowest byte, then green, blue, opacity."""

_COMMON = """
struct Ask { number: u32, side: u32, unused_1: u32, unused_2: u32 }
@group(0) @binding(0) var<uniform> ask: Ask;
fn mixed(value: u32) -> u32 {
    var x = value;
    x = (x ^ (x >> 16u)) * 0x7FEB352Du;
    x = (x ^ (x >> 15u)) * 0x846CA68Bu;
    return x ^ (x >> 16u);
}
fn part(value: u32) -> f32 { return f32(mixed(value) & 0xFFFFu) / 65535.0; }
"""

GROUND = (
    _COMMON
    + """
@group(0) @binding(1) var cover: texture_2d<f32>;
@group(0) @binding(2) var filtered: sampler;
struct Corner { @builtin(position) place: vec4<f32>, @location(0) at: vec2<f32>, @location(1) height: f32 }
fn height(at: vec2<f32>) -> f32 {
    let whole = floor(at * 7.0);
    let rest = at * 7.0 - whole;
    let smooth_part = rest * rest * (3.0 - 2.0 * rest);
    let k = u32(whole.x) + 57u * u32(whole.y) + 4099u * ask.number;
    let near = mix(part(k), part(k + 1u), smooth_part.x);
    let far = mix(part(k + 57u), part(k + 58u), smooth_part.x);
    return mix(near, far, smooth_part.y);
}
@vertex fn corner(@builtin(vertex_index) index: u32) -> Corner {
    let square = index / 6u;
    let offsets = array<vec2<u32>, 6>(vec2(0u, 0u), vec2(1u, 0u), vec2(0u, 1u),
                                      vec2(0u, 1u), vec2(1u, 0u), vec2(1u, 1u));
    let at = vec2<f32>(vec2<u32>(square % MESHu, square / MESHu) + offsets[index % 6u]) / MESH.0;
    let up = height(at);
    let away = 1.0 + 2.0 * at.y;
    var out: Corner;
    out.place = vec4<f32>((at.x - 0.5) * 3.4, -0.95 + 1.1 * at.y + up * 0.5 - 0.25, 0.25 * away, away * 0.6);
    out.at = at;
    out.height = up;
    return out;
}
@fragment fn colour(in: Corner) -> @location(0) vec4<f32> {
    var lit = textureSample(cover, filtered, in.at * 5.0) * (0.35 + 0.65 * in.height);
    for (var k = 0u; k < 12u; k = k + 1u) {
        lit = lit + 0.05 * sin(lit.yzwx * 6.2831853 + in.at.xyxy * f32(k));
    }
    return vec4<f32>(fract(abs(lit.rgb)), 1.0);
}
"""
)

SKY = (
    _COMMON
    + """
@vertex fn corner(@builtin(vertex_index) index: u32) -> @builtin(position) vec4<f32> {
    let corners = array<vec2<f32>, 3>(vec2(-1.0, -1.0), vec2(3.0, -1.0), vec2(-1.0, 3.0));
    return vec4<f32>(corners[index], 0.999, 1.0);
}
@fragment fn colour(@builtin(position) place: vec4<f32>) -> @location(0) vec4<f32> {
    var z = (place.xy / f32(ask.side) - 0.5) * 2.6 + vec2<f32>(0.02 * f32(ask.number), 0.0);
    let c = vec2<f32>(-0.4 - 0.01 * f32(ask.number), 0.59);
    var whole = mixed(u32(place.x) * 7919u + u32(place.y) + ask.number);
    var turns = 0.0;
    for (var k = 0u; k < 28u; k = k + 1u) {
        let next = vec2<f32>(z.x * z.x - z.y * z.y, 2.0 * z.x * z.y) + c;
        let inside = dot(next, next) < 16.0;
        z = select(z, next, inside);
        turns = turns + select(0.0, 1.0, inside);
        whole = mixed(whole + k);
    }
    let grain = f32(whole & 255u) / 1020.0;
    return vec4<f32>(turns / 28.0, sqrt(turns / 40.0), 0.35 + grain, 1.0);
}
"""
)

DISC = (
    _COMMON
    + """
struct Corner { @builtin(position) place: vec4<f32>, @location(0) from_middle: vec2<f32>, @location(1) tint: vec4<f32> }
@vertex fn corner(@builtin(vertex_index) index: u32, @builtin(instance_index) disc: u32) -> Corner {
    let corners = array<vec2<f32>, 6>(vec2(-1.0, -1.0), vec2(1.0, -1.0), vec2(-1.0, 1.0),
                                      vec2(-1.0, 1.0), vec2(1.0, -1.0), vec2(1.0, 1.0));
    let k = disc * 16u + ask.number * 8191u;
    let middle = vec2<f32>(part(k), part(k + 1u)) * 2.0 - 1.0;
    let size = 0.03 + 0.12 * part(k + 2u);
    var out: Corner;
    out.place = vec4<f32>(middle + corners[index] * size, part(k + 3u), 1.0);
    out.from_middle = corners[index];
    out.tint = vec4<f32>(part(k + 4u), part(k + 5u), part(k + 6u), 0.25 + 0.5 * part(k + 7u));
    return out;
}
@fragment fn colour(in: Corner) -> @location(0) vec4<f32> {
    let far = dot(in.from_middle, in.from_middle);
    if (far > 1.0) { discard; }
    return vec4<f32>(in.tint.rgb * (1.0 - 0.5 * far), in.tint.a);
}
"""
)

SUMMED = """
struct Ask { number: u32, side: u32, unused_1: u32, unused_2: u32 }
@group(0) @binding(0) var drawn: texture_2d<f32>;
@group(0) @binding(1) var<storage, read_write> digests: array<vec2<u32>>;
@group(0) @binding(2) var<uniform> ask: Ask;
var<workgroup> sums: array<atomic<u32>, 2>;
fn mixed(value: u32) -> u32 {
    var x = value;
    x = (x ^ (x >> 16u)) * 0x7FEB352Du;
    x = (x ^ (x >> 15u)) * 0x846CA68Bu;
    return x ^ (x >> 16u);
}
@compute @workgroup_size(16, 16)
fn main(@builtin(workgroup_id) tile: vec3<u32>, @builtin(local_invocation_id) local: vec3<u32>,
        @builtin(local_invocation_index) index: u32) {
    if (index == 0u) { atomicStore(&sums[0], 0u); atomicStore(&sums[1], 0u); }
    workgroupBarrier();
    for (var k = 0u; k < 4u; k = k + 1u) {
        let at = vec2<u32>(local.x + 16u * (k & 1u), local.y + 16u * (k >> 1u));
        let pixel = pack4x8unorm(textureLoad(drawn, tile.xy * TILEu + at, 0));
        let own = mixed(pixel ^ mixed(at.y * TILEu + at.x + 1u));
        atomicXor(&sums[0], own);
        atomicAdd(&sums[1], mixed(own ^ 0x5bd1e995u));
    }
    workgroupBarrier();
    if (index == 0u) {
        digests[tile.y * (ask.side / TILEu) + tile.x] = vec2<u32>(atomicLoad(&sums[0]), atomicLoad(&sums[1]));
    }
}
"""

_NUMBERS = {"MESH": MESH, "TILE": TILE}


def filled_in(code: str) -> str:
    """A program with its numbers."""
    for name, number in _NUMBERS.items():
        code = code.replace(name, str(number))
    return code


class Easel:
    """Draws pictures on a card, ``side`` pixels square; ``then`` is told the digests of each, tile by tile, while the
    next is drawn. A picture stays as long as its slot is not drawn on again.
    """

    def __init__(
        self,
        card: OpenCard,
        side: int,
        change: Callable[[str], str] = lambda text: text,
    ) -> None:
        self._card, self.side, self.tiles = card, side, side // TILE
        self._change = change
        self.spoil: Callable[[Any, int], None] | None = None
        """Told the texture and the number of each picture between its drawing and its sum, to try what looks."""
        self.submissions = Submissions(card, self.tiles * self.tiles * DIGEST_BYTES)
        slots = range(len(self.submissions.answers))
        gpu, device = card.gpu, card.device
        use = gpu.TextureUsage
        size = (side, side, 1)
        keeps = use.RENDER_ATTACHMENT | use.TEXTURE_BINDING | use.COPY_SRC | use.COPY_DST
        self._drawn = [device.create_texture(size=size, format=COLOUR, usage=keeps) for _ in slots]
        self._depth = device.create_texture(size=size, format=DEPTH, usage=use.RENDER_ATTACHMENT)
        self._asked = [card.uniform(_ASK.size) for _ in slots]
        cover, sampler = (
            self._cover(),
            device.create_sampler(
                mag_filter="linear", min_filter="linear", address_mode_u="repeat", address_mode_v="repeat"
            ),
        )
        self._layers = []
        for code, count, instances, blended in (
            (GROUND, MESH * MESH * 6, 1, False), (SKY, 3, 1, False), (DISC, 6, DISCS, True),
        ):  # fmt: skip
            pipeline = self._pipeline(code, blended)
            more = [cover.create_view(), sampler] if code is GROUND else []
            bound = [card.bound(pipeline, [one, *more]) for one in self._asked]
            self._layers.append((pipeline, bound, count, instances))
        self._sum = card.program(filled_in(change(SUMMED)))
        views = [one.create_view() for one in self._drawn]
        each = zip(views, self.submissions.answers, self._asked, strict=True)
        self._summing = [card.bound(self._sum, one) for one in each]
        self._views, self._depth_view = views, self._depth.create_view()

    def _cover(self) -> Any:
        """A texture of grain."""
        gpu, size = self._card.gpu, 256
        grain: NDArray[np.uint32] = np.arange(size * size, dtype=np.uint32)
        for shift, factor in ((16, 0x7FEB352D), (15, 0x846CA68B)):
            grain = (grain ^ grain >> np.uint32(shift)) * np.uint32(factor)
        texture = self._card.device.create_texture(
            size=(size, size, 1), format=COLOUR, usage=gpu.TextureUsage.TEXTURE_BINDING | gpu.TextureUsage.COPY_DST
        )
        self._card.device.queue.write_texture(
            {"texture": texture}, grain.tobytes(), {"bytes_per_row": size * PIXEL_BYTES}, (size, size, 1)
        )
        return texture

    def _pipeline(self, code: str, blended: bool) -> Any:
        module = self._card.device.create_shader_module(code=filled_in(self._change(code)))
        over = {"operation": "add", "src_factor": "src-alpha", "dst_factor": "one-minus-src-alpha"}
        target: dict[str, Any] = {"format": COLOUR}
        if blended:
            target["blend"] = {"color": over, "alpha": over}
        return self._card.device.create_render_pipeline(
            layout="auto",
            vertex={"module": module, "entry_point": "corner", "buffers": []},
            primitive={"topology": "triangle-list"},
            depth_stencil={"format": DEPTH, "depth_write_enabled": not blended, "depth_compare": "less-equal"},
            fragment={"module": module, "entry_point": "colour", "targets": [target]},
        )

    def draw(self, number: int, then: Callable[[int, bytes], None]) -> None:
        """Draw a picture; ``then`` is told its slot and its digests."""
        slot = self.submissions.slot()
        self._card.device.queue.write_buffer(self._asked[slot], 0, _ASK.pack(number, self.side, 0, 0))

        def encode(encoder: Any) -> None:
            drawing = encoder.begin_render_pass(
                color_attachments=[
                    {"view": self._views[slot], "load_op": "clear", "store_op": "store", "clear_value": (0, 0, 0, 1)}
                ],
                depth_stencil_attachment={
                    "view": self._depth_view, "depth_load_op": "clear", "depth_store_op": "discard",
                    "depth_clear_value": 1.0,
                },
            )  # fmt: skip
            for pipeline, bound, count, instances in self._layers:
                drawing.set_pipeline(pipeline)
                drawing.set_bind_group(0, bound[slot])
                drawing.draw(count, instances)
            drawing.end()
            if self.spoil is None:
                self._encode_sum(encoder, slot)

        if self.spoil is not None:
            # Whoever spoils a picture does so between its drawing and its sum.
            encoder = self._card.device.create_command_encoder()
            encode(encoder)
            self._card.device.queue.submit([encoder.finish()])
            self.spoil(self._drawn[slot], number)
            self.submissions.submit(lambda one: self._encode_sum(one, slot), lambda data: then(slot, data))
        else:
            self.submissions.submit(encode, lambda data: then(slot, data))

    def sum_again(self, slot: int, then: Callable[[bytes], None]) -> None:
        """The digests of what stands in a slot now; nothing else may be under way."""
        own = self.submissions.slot()
        bound = self._card.bound(self._sum, (self._views[slot], self.submissions.answers[own], self._asked[slot]))
        self.submissions.submit(lambda one: self._dispatch(one, bound), then)

    def _encode_sum(self, encoder: Any, slot: int) -> None:
        self._dispatch(encoder, self._summing[slot])

    def _dispatch(self, encoder: Any, bound: Any) -> None:
        summing = encoder.begin_compute_pass()
        summing.set_pipeline(self._sum)
        summing.set_bind_group(0, bound)
        summing.dispatch_workgroups(self.tiles, self.tiles)
        summing.end()

    def pixels(self, slot: int, x: int = 0, y: int = 0, size: int | None = None) -> Pixels:
        """A square of what stands in a slot, fetched; all of it where no size is given."""
        size = size or self.side
        row = -(-size * PIXEL_BYTES // ROW_ALIGNED) * ROW_ALIGNED
        data = self._card.device.queue.read_texture(
            {"texture": self._drawn[slot], "origin": (x, y, 0)}, {"bytes_per_row": row}, (size, size, 1)
        )
        rows: Pixels = np.frombuffer(data, np.uint32).reshape(size, -1)
        return rows[:, :size].copy()

    def put(self, slot: int, x: int, y: int, pixel: int) -> None:
        """Set one pixel of what stands in a slot."""
        self._card.device.queue.write_texture(
            {"texture": self._drawn[slot], "origin": (x, y, 0)},
            struct.pack("<I", pixel),
            {"bytes_per_row": 4},
            (1, 1, 1),
        )

    def drain(self) -> None:
        """Wait for all that is under way."""
        self.submissions.drain()
