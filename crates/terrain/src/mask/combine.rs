//! How one mask joins the ones before it.

/// How a term joins the ones before it.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
#[cfg_attr(
    feature = "serde",
    derive(serde::Serialize, serde::Deserialize, schemars::JsonSchema),
    serde(rename_all = "snake_case"),
    schemars(rename = "Joined")
)]
pub enum Combine {
    /// Both must hold.
    #[default]
    Multiply,
    /// The sum, at most 1.
    Add,
    /// Is taken away, at least 0.
    Subtract,
    /// The higher of the two.
    Highest,
    /// The lower of the two.
    Lowest,
    /// Either may hold.
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

    /// The result of joining `b` to `a`, from 0 to 1 as they are.
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
