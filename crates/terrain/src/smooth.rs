//! The smooth step.

use std::ops::{Mul, Sub};

/// Rises smoothly from 0 to 1 as `t` goes from 0 to 1 (cubic Hermite), level at both
/// ends and beyond them. For `f32` and `f64`.
#[inline(always)]
pub fn smooth<T>(t: T) -> T
where
    T: Copy + From<f32> + PartialOrd + Mul<Output = T> + Sub<Output = T>,
{
    let (none, all) = (T::from(0.0), T::from(1.0));
    let t = if t < none {
        none
    } else if t > all {
        all
    } else {
        t
    };
    t * t * (T::from(3.0) - T::from(2.0) * t)
}
