//! What is done to the ground as a whole, once its covers lie.

use terrain::ground::Colour;
use terrain::{Frame, Grid};

use super::Ground;
use crate::document::{Finish, Reading, Wash, linear_colour};
use crate::grow::GrowError;
use crate::grow::masked::mask_on;
use crate::grow::readings::Beneath;

/// Wet ground has this share of its dry colour: about half, as water on grains
/// sends light deeper into them (Lekner and Dorf 1988, "Why some things are
/// darker when wet").
const WET_DARK: f32 = 0.5;
/// And this share of its roughness.
const WET_ROUGH: f32 = 0.45;

/// Water that has crossed this much of a wash's source, metres, carries enough
/// colour for all but 1/e of the ground to be hidden.
const FULL_M: f32 = 30.0;

impl Ground<'_> {
    /// Washes colours downhill, darkens hollows and wets the shore.
    pub(super) fn finished(
        mut self,
        finish: &Finish,
        beneath: &Beneath,
        frame: &Frame,
    ) -> Result<Self, GrowError> {
        for wash in finish.washes.iter().filter(|wash| wash.on) {
            let Some(colour) = linear_colour(&wash.colour) else {
                continue;
            };
            beneath.run().check()?;
            let there = wash_on(wash, beneath, frame)?;
            self.albedo = self.albedo.zip_map(&there, |ground, there| {
                ground.towards(colour, wash.amount * there)
            });
        }
        if let Some(hollows) = finish.hollows {
            beneath.run().check()?;
            let reach_m = hollows.reach_m;
            let shut = beneath.reading(&Reading::Occlusion { reach_m }, frame)?;
            self.albedo = self.albedo.zip_map(&shut, |ground, shut| {
                ground.scaled(1.0 - hollows.amount * shut)
            });
        }
        if let Some(shore) = finish.shore {
            beneath.run().check()?;
            let far = beneath.reading(&Reading::Water, frame)?;
            let reach_m = shore.reach_m as f32;
            let wet =
                far.map(|far| shore.amount * terrain::mask::smooth(1.0 - (far / reach_m).min(1.0)));
            let darker = |ground: Colour, wet: f32| ground.scaled(1.0 - wet * (1.0 - WET_DARK));
            self.albedo = self.albedo.zip_map(&wet, darker);
            self.roughness = self
                .roughness
                .zip_map(&wet, |rough, wet| rough * (1.0 - wet * (1.0 - WET_ROUGH)));
        }
        Ok(self)
    }
}

/// How much of a wash's colour is in each cell of `frame`, 0 to 1.
fn wash_on(wash: &Wash, beneath: &Beneath, frame: &Frame) -> Result<Grid, GrowError> {
    let name = format!("wash {}", wash.id);
    beneath.of_whole(frame, &name, |whole| {
        let over_all = beneath.on_whole();
        let source = mask_on(&wash.mask, &over_all, &whole.frame)?;
        let drainage = beneath.drainage(whole)?;
        let distance = (wash.distance_m / whole.frame.cell_m) as f32;
        let washed = drainage.wash(&source, distance);
        // What stays in a cell is that share of what passes through it.
        let passing = 1.0 / (1.0 - (-1.0 / distance).exp());
        let per_cell = whole.frame.cell_m as f32 / FULL_M;
        Ok(washed
            .laid
            .map(|laid| 1.0 - (-laid * passing * per_cell).exp()))
    })
}
