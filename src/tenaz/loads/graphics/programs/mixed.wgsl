// A bijection of 32 bits in which each bit moves about half of all.
fn mixed(value: u32) -> u32 {
    var x = value;
    x = (x ^ (x >> 16u)) * 0x7FEB352Du;
    x = (x ^ (x >> 15u)) * 0x846CA68Bu;
    return x ^ (x >> 16u);
}
