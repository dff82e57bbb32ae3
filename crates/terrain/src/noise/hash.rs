//! Repeatable pseudo-random bits from a place and a seed.

/// Large odd factors (golden ratio and √2, scaled to 32 bits) keep coordinates apart
/// before they are mixed.
pub(crate) const ACROSS: u32 = 0x9e37_79b1;
pub(crate) const UP: u32 = 0xb504_f333;
pub(crate) const MIX_FIRST: u32 = 0x7feb_352d;
pub(crate) const MIX_SECOND: u32 = 0x846c_a68b;

/// Mixes 32 bits so that each input bit flips each output bit with
/// probability close to one half ("lowbias32", Wellons 2018, public domain).
#[inline(always)]
fn mix(mut bits: u32) -> u32 {
    bits ^= bits >> 16;
    bits = bits.wrapping_mul(MIX_FIRST);
    bits ^= bits >> 15;
    bits = bits.wrapping_mul(MIX_SECOND);
    bits ^ (bits >> 16)
}

/// Bits for the lattice point (`ix`, `iy`) under `seed`.
#[inline(always)]
pub fn hash(ix: i32, iy: i32, seed: u32) -> u32 {
    mix((ix as u32).wrapping_mul(ACROSS) ^ mix((iy as u32).wrapping_mul(UP) ^ seed))
}

/// Bits for the lattice point (`ix`, `iy`) under `seed`, from a single mix: for
/// noise that asks for many points at each place. Points on a line of the
/// lattice are told apart by the odd factors.
#[inline(always)]
pub fn light_hash(ix: i32, iy: i32, seed: u32) -> u32 {
    let line = (ix as u32).wrapping_mul(ACROSS);
    mix(line.wrapping_add((iy as u32).wrapping_mul(UP)) ^ seed)
}

/// Bits as a number in [0, 1), with 24 bits of resolution.
#[inline(always)]
pub fn unit(bits: u32) -> f32 {
    (bits >> 8) as f32 * (1.0 / 16_777_216.0)
}
