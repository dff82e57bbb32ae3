//! How one mask joins the ones before it.

/// An operation on two values from 0 to 1 whose result is from 0 to 1.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Combine {
    /// Both must hold: a·b.
    Multiply,
    /// The sum, at most 1.
    Add,
    /// What is left, at least 0.
    Subtract,
    /// The higher of the two.
    Highest,
    /// The lower of the two.
    Lowest,
    /// Either may hold: 1 − (1 − a)(1 − b).
    Screen,
}

impl Combine {
    /// The value that changes nothing when it is joined.
    pub fn neutral(self) -> f32 {
        match self {
            Combine::Multiply | Combine::Lowest => 1.0,
            Combine::Add | Combine::Subtract | Combine::Highest | Combine::Screen => 0.0,
        }
    }

    /// The result of joining `b` to `a`.
    #[inline(always)]
    pub fn apply(self, a: f32, b: f32) -> f32 {
        match self {
            Combine::Multiply => a * b,
            Combine::Add => (a + b).min(1.0),
            Combine::Subtract => (a - b).max(0.0),
            Combine::Highest => a.max(b),
            Combine::Lowest => a.min(b),
            Combine::Screen => 1.0 - (1.0 - a) * (1.0 - b),
        }
    }
}
