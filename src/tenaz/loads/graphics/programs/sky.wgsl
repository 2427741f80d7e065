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
