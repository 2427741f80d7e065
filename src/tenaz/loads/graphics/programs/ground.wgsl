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
    let at = vec2<f32>(vec2<u32>(square % ${MESH}u, square / ${MESH}u) + offsets[index % 6u]) / ${MESH}.0;
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
