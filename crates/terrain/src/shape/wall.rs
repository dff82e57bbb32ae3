//! Walls of a valley, cut through beds of rock.

/// What walls are like, from the floor up.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Walls {
    /// Tangent of their slope, of what is hard in them.
    pub steep: f32,
    /// Thickness of a hard and a soft bed together, metres; none when 0.
    pub bed_m: f32,
    /// Height of the scree at their foot, metres.
    pub scree_m: f32,
}

/// Soft beds and scree lie at the angle at which broken rock rests (common practice, 30 to
/// 40°).
const RESTS: f32 = 0.675;
/// Of a pair of beds the lower one is soft: so much of both.
const SOFT: f32 = 0.55;
/// Between which heights beds are known, in steps a bed.
const STEPS: usize = 16;

/// How far from the floor a wall has which height: beds lie at their own heights all over
/// the land, so that both sides of a valley show the same ones.
#[derive(Clone, Debug)]
pub struct WallProfile {
    walls: Walls,
    low_m: f32,
    step_m: f32,
    /// How far a wall from the lowest height has gone at each step up, metres.
    gone_m: Vec<f32>,
}

impl WallProfile {
    /// For heights between two, metres.
    pub fn between(walls: Walls, low_m: f32, high_m: f32) -> Self {
        /// However thin beds are on however high land.
        const MOST_STEPS: f32 = 100_000.0;
        let range = (high_m - low_m).max(1.0);
        let wanted = match walls.bed_m > 0.0 {
            true => walls.bed_m / STEPS as f32,
            false => range,
        };
        let step_m = wanted.max(range / MOST_STEPS);
        let count = (range / step_m).ceil() as usize + 1;
        let mut gone_m = vec![0.0];
        let mut sum = 0.0_f64;
        for step in 0..count {
            let height = low_m + (step as f32 + 0.5) * step_m;
            sum += f64::from(step_m / walls.slope_at(height));
            gone_m.push(sum as f32);
        }
        Self {
            walls,
            low_m,
            step_m,
            gone_m,
        }
    }

    /// Height of a wall so many metres from the edge of a floor at `floor_m`.
    pub fn height(&self, floor_m: f32, away_m: f32) -> f32 {
        let foot = self.walls.scree_m / RESTS;
        if away_m < foot {
            // Scree is hollow: gentler at its end than where it comes from.
            let share = away_m / foot;
            return floor_m + self.walls.scree_m * share * (0.6 + 0.4 * share);
        }
        let above = floor_m + self.walls.scree_m;
        self.reached(self.gone(above) + away_m - foot)
    }

    fn gone(&self, height_m: f32) -> f32 {
        let at = ((height_m - self.low_m) / self.step_m).max(0.0);
        let k = (at as usize).min(self.gone_m.len() - 2);
        self.gone_m[k] + (at - k as f32) * (self.gone_m[k + 1] - self.gone_m[k])
    }

    fn reached(&self, gone_m: f32) -> f32 {
        let after = self.gone_m.partition_point(|&at| at < gone_m);
        let k = after.clamp(1, self.gone_m.len() - 1) - 1;
        let share = (gone_m - self.gone_m[k]) / (self.gone_m[k + 1] - self.gone_m[k]);
        self.low_m + (k as f32 + share) * self.step_m
    }
}

impl Walls {
    fn slope_at(&self, height_m: f32) -> f32 {
        let soft = self.bed_m > 0.0 && (height_m / self.bed_m).rem_euclid(1.0) < SOFT;
        match soft {
            true => self.steep.min(RESTS),
            false => self.steep,
        }
        .max(0.01)
    }
}
