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
from tenaz.loads.graphics.digests import DIGEST_BYTES
from tenaz.loads.graphics.opened import OpenCard, Submissions
from tenaz.loads.graphics.programs import program

TILE = TILE_PX
"""Pixels along a side of a tile; a picture's side is a multiple of it."""
NUMBERS = 4
"""Pictures drawn in turn."""
MESH = 96
"""Squares of the ground along a side."""
DISCS = 160
DEPTH, COLOUR = "depth32float", "rgba8unorm"
PIXEL_BYTES = 4
ROW_ALIGNED = 256
"""Rows are copied in multiples of so many bytes."""
_ASK = struct.Struct("<4I")

Pixels = NDArray[np.uint32]
"""A picture or a part of it, ``(height, width)``: red in the lowest byte, then green, blue, opacity."""

GROUND, SKY, DISC = (program("mixed", "asked", name, MESH=MESH) for name in ("ground", "sky", "disc"))
TILES = program("mixed", "tiles", TILE=TILE)


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
        self._sum = card.program(change(TILES))
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
        module = self._card.device.create_shader_module(code=self._change(code))
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
