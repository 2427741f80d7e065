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
