struct Ask { number: u32, side: u32, unused_1: u32, unused_2: u32 }
@group(0) @binding(0) var<uniform> ask: Ask;
fn part(value: u32) -> f32 { return f32(mixed(value) & 0xFFFFu) / 65535.0; }
