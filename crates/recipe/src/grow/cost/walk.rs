//! The way that growth will go, counted instead of grown.

use std::collections::{HashMap, HashSet};

use terrain::Extent;
use terrain::erosion::Level;
use terrain::mask::grow_margin;
use terrain::shape::{blur_halvings, blur_margin};

use super::{Budget, Cost, Excess, Size, Wanted};
use crate::document::{Cells, Cover, Mask, Reading, Recipe};
use crate::grow::margins::{ground_margin, ground_needs_whole, margin_below, whole_margin};
use crate::grow::named::NamedMasks;

/// Whose cost is counted.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(super) enum Owner {
    /// A step of a strand.
    Step(usize, usize),
    /// A named mask.
    Mask(usize),
    /// A cover.
    Cover(usize),
    /// A wash.
    Wash(usize),
    /// What is asked for, as such.
    Land,
}

/// What goes beyond the budget, and where it was found.
#[derive(Clone, Copy, Debug)]
pub(super) struct Found {
    pub(super) owner: Owner,
    pub(super) excess: Excess,
    /// The cells on which the owner was looked at.
    pub(super) on: Size,
    /// Whether what is too much is the land below it, of which it needs so much more
    /// around than is asked for.
    pub(super) around: bool,
}

/// A state that is needed: a strand, how many of its steps, on which cells.
type Needed = (usize, usize, Size);

/// The way that growth will go.
pub(super) struct Walk<'r> {
    recipe: &'r Recipe,
    masks: NamedMasks<'r>,
    strands: HashMap<&'r str, usize>,
    budget: Budget,
    needed: Vec<Needed>,
    seen: HashSet<(usize, usize, [u64; 3])>,
    masks_seen: HashSet<(usize, (usize, usize), [u64; 3])>,
    work: f64,
    /// The most that anything takes at once, bytes.
    peak: f64,
    /// Whoever takes most work, and how much.
    hardest: (Found, f64),
    /// The step that has made the land below it so much larger, and how many times.
    widest: Option<(Owner, f64)>,
}

/// Land that is so many times larger than what is asked for is put down to whoever
/// needs it.
const MUCH_WIDER: f64 = 3.0;

/// Results of which a growth may keep account: more would be a riddle, not a recipe.
const MOST_WAYS: usize = 100_000;
/// Fields of a float that a step holds at once for each of its cells: the land below
/// it, what it makes, and both joined.
const FIELDS_OF_STEP: f64 = 4.0;
/// The same for a mask: its terms, what they are joined to, and its noise.
const FIELDS_OF_MASK: f64 = 5.0;
/// Fields that routing water over the land as a whole takes.
const FIELDS_OF_DRAINAGE: f64 = 12.0;
/// The ground of larger land is laid in strips, which take no more than so many cells.
const GROUND_CELLS: f64 = 4.3e6;
/// Fields that laying the ground takes: a few, and a mask and a weight for each cover.
const FIELDS_OF_GROUND: (f64, f64) = (24.0, 3.0);

impl<'r> Walk<'r> {
    /// Goes all the way that growing `wanted` goes on cells of `size`: what it takes at
    /// once, and in all.
    pub(super) fn over(
        recipe: &'r Recipe,
        budget: Budget,
        wanted: &Wanted,
        size: Size,
    ) -> Result<Cost, Box<Found>> {
        let mut walk = Self::new(recipe, budget, size);
        let (Wanted::Ground(part) | Wanted::Mask(part, _) | Wanted::Stages(part)) = wanted;
        // A strand that is not there is refused by growth itself.
        let Some(&strand) = walk.strands.get(part.strand) else {
            return Ok(Cost::default());
        };
        let steps = part.steps.min(recipe.strands[strand].steps.len());
        match wanted {
            Wanted::Ground(_) => walk.ground(strand, steps, size)?,
            Wanted::Mask(_, mask) => walk.mask(Owner::Land, (strand, steps), mask, size)?,
            Wanted::Stages(_) => walk.needed.push((strand, steps, size.grown(1))),
        }
        walk.all_needed()?;
        Ok(Cost {
            bytes: walk.peak,
            work: walk.work,
        })
    }

    /// Only what a changed owner takes itself, on cells of `size`.
    pub(super) fn of_owner_alone(
        recipe: &'r Recipe,
        budget: Budget,
        owner: Owner,
        size: Size,
    ) -> Result<(), Box<Found>> {
        let mut walk = Self::new(recipe, budget, size);
        let land = walk
            .strands
            .get(crate::document::LAND)
            .copied()
            .unwrap_or(0);
        let end = (land, recipe.strands[land].steps.len());
        match owner {
            Owner::Step(s, k) => walk.step(s, k, size).map(drop),
            Owner::Mask(i) => walk.mask(owner, end, &recipe.masks[i].mask, size),
            Owner::Cover(i) => walk.cover(i, &recipe.covers[i], end, size),
            Owner::Wash(i) => walk.mask(owner, end, &recipe.finish.washes[i].mask, size),
            Owner::Land => Ok(()),
        }
    }

    fn new(recipe: &'r Recipe, budget: Budget, size: Size) -> Self {
        let names = recipe.strands.iter().map(|strand| strand.name.as_str());
        Self {
            recipe,
            masks: NamedMasks::of(recipe),
            strands: names.zip(0..).collect(),
            budget,
            needed: Vec::new(),
            seen: HashSet::new(),
            masks_seen: HashSet::new(),
            work: 0.0,
            peak: 0.0,
            hardest: (
                Found {
                    owner: Owner::Land,
                    excess: Excess::Work(0.0),
                    on: size,
                    around: false,
                },
                0.0,
            ),
            widest: None,
        }
    }

    fn extent(&self) -> Extent {
        self.recipe.extent.into()
    }

    fn cells(&self, size: Size) -> Cells {
        Cells {
            cell_m: size.cell_m,
            land_m: self.extent().longest_m(),
        }
    }

    fn charge(&mut self, owner: Owner, on: Size, cost: Cost) -> Result<(), Box<Found>> {
        let blamed = self.widest.filter(|(_, times)| *times > MUCH_WIDER);
        let found = |excess| Found {
            owner: blamed.map_or(owner, |(owner, _)| owner),
            excess,
            on,
            around: blamed.is_some(),
        };
        if cost.bytes > self.budget.bytes {
            return Err(Box::new(found(Excess::Bytes(cost.bytes))));
        }
        self.peak = self.peak.max(cost.bytes);
        self.work += cost.work;
        let by_now = found(Excess::Work(self.work));
        if cost.work > self.hardest.1 {
            self.hardest = (by_now, cost.work);
        }
        if self.work > self.budget.work {
            let excess = by_now.excess;
            return Err(Box::new(Found {
                excess,
                ..self.hardest.0
            }));
        }
        if self.seen.len() + self.masks_seen.len() > MOST_WAYS {
            return Err(Box::new(found(Excess::Ways)));
        }
        Ok(())
    }

    fn all_needed(&mut self) -> Result<(), Box<Found>> {
        while let Some((strand, steps, mut size)) = self.needed.pop() {
            let all = &self.recipe.strands[strand].steps[..steps];
            self.widest = None;
            for (k, _) in all.iter().enumerate().rev().filter(|(_, step)| step.on) {
                if !self.seen.insert((strand, k, size.key())) {
                    break;
                }
                let wide = self.step(strand, k, size)?;
                let times = wide.cells() / size.cells();
                if self.widest.is_none_or(|(_, known)| times > known) {
                    self.widest = Some((Owner::Step(strand, k), times));
                }
                size = wide;
            }
        }
        Ok(())
    }

    /// What one step takes on cells of `size`; says on how many it needs what is
    /// below it.
    fn step(&mut self, strand: usize, k: usize, size: Size) -> Result<Size, Box<Found>> {
        let step = &self.recipe.strands[strand].steps[k];
        let (owner, operation) = (Owner::Step(strand, k), &step.operation);
        let mask = step.mask.as_ref();
        let margin = mask.map_or(0, |mask| self.masks.margin(mask, self.cells(size)));
        let wide = size.grown(margin_below(step, margin, size.cell_m));
        let traces = operation.fields_left().count() as f64;
        let passes = operation.passes(size, self.extent());
        let mut cost = Cost::of(wide.cells(), FIELDS_OF_STEP + traces, passes);
        let levels = operation.levels(size.cell_m, self.extent());
        let beyond_m = operation.beyond_m(self.extent());
        let extent = self.extent();
        let on =
            |level: &Level| Size::covering(extent, level.cell_m).grown(level.cells_in(beyond_m));
        let finest = levels.last().map(on);
        let below = match finest {
            Some(finest) if wide.holds(Size::covering(extent, size.cell_m)) => wide.joined(finest),
            _ => wide,
        };
        if let Some(on) = finest {
            // While it works there is the land below it, afterwards what it has made.
            let fields = operation.fields_on(on.cols.max(on.rows) as usize);
            let working = Cost::of(on.cells(), fields + 1.0, 0.0).bytes;
            let made = Cost::of(on.cells(), 1.0 + traces, 0.0).bytes;
            cost.bytes = working.max(cost.bytes + made);
        }
        for level in &levels {
            let on = on(level);
            cost.work += on.cells() * level.iterations as f64 * operation.passes_in_step();
        }
        self.charge(owner, size, cost)?;
        // Only now: a cascade that is too fine asks for as much below it.
        for on in levels.iter().map(on).collect::<Vec<_>>() {
            self.needed.push((strand, k, on));
            for mask in operation.masks() {
                self.mask(owner, (strand, k), mask, on)?;
            }
        }
        if let halvings @ 1.. = blur_halvings(operation.blurs_m(), size.cell_m) {
            let coarse = size.grown(1).coarser(halvings);
            let margin = blur_margin(operation.blurs_m(), coarse.cell_m);
            self.needed.push((strand, k, coarse.grown(margin)));
        }
        if let Some(mask) = mask {
            self.mask(owner, (strand, k), mask, size)?;
        }
        let taken = operation.takes_in().and_then(|name| self.strands.get(name));
        if let Some(&taken) = taken {
            let steps = self.recipe.strands[taken].steps.len();
            let on = match operation.takes_in_on() {
                None if !levels.is_empty() => levels.iter().map(on).collect(),
                None => vec![size],
                Some(cells) => {
                    let cell_m = self.extent().longest_m() / cells as f64;
                    vec![Size::covering(self.extent(), cell_m)]
                }
            };
            self.needed
                .extend(on.into_iter().map(|on| (taken, steps, on)));
        }
        Ok(below)
    }

    fn ground(&mut self, strand: usize, steps: usize, size: Size) -> Result<(), Box<Found>> {
        let recipe = self.recipe;
        let margin = ground_margin(recipe, &self.masks, self.cells(size));
        self.needed.push((strand, steps, size.grown(margin)));
        let covers = recipe
            .covers
            .iter()
            .enumerate()
            .filter(|(_, cover)| cover.on);
        let laid = covers.clone().count() as f64;
        let (some, each) = FIELDS_OF_GROUND;
        let strip = size.cells().min(GROUND_CELLS);
        let mut cost = Cost::of(strip, some + each * laid, laid);
        // Meanwhile the land is held, with what its steps have left.
        let steps_below = &recipe.strands[strand].steps[..steps];
        let left = steps_below
            .iter()
            .flat_map(|step| step.operation.fields_left());
        let held = 1.0 + left.collect::<HashSet<_>>().len() as f64;
        cost.bytes += Cost::of(size.grown(margin).cells(), held, 0.0).bytes;
        if ground_needs_whole(recipe, &self.masks) {
            let whole = self.whole_size(size).cells();
            cost.bytes += Cost::of(whole, held + FIELDS_OF_DRAINAGE, 0.0).bytes;
        }
        self.charge(Owner::Land, size, cost)?;
        for (i, cover) in covers {
            self.cover(i, cover, (strand, steps), size)?;
        }
        for (i, wash) in recipe.finish.washes.iter().enumerate() {
            self.mask(Owner::Wash(i), (strand, steps), &wash.mask, size)?;
        }
        if ground_needs_whole(recipe, &self.masks) {
            self.whole(Owner::Land, (strand, steps), size)?;
        }
        Ok(())
    }

    fn cover(
        &mut self,
        i: usize,
        cover: &Cover,
        at: (usize, usize),
        size: Size,
    ) -> Result<(), Box<Found>> {
        if let Some(mask) = &cover.mask {
            self.mask(Owner::Cover(i), at, mask, size)?;
        }
        match &cover.gradient {
            Some(gradient) => self.reading(Owner::Cover(i), at, &gradient.by, size),
            None => Ok(()),
        }
    }

    /// The land as a whole, and how water runs over it.
    fn whole(
        &mut self,
        owner: Owner,
        (strand, steps): (usize, usize),
        size: Size,
    ) -> Result<(), Box<Found>> {
        let whole = self.whole_size(size);
        self.charge(
            owner,
            size,
            Cost::of(whole.cells(), FIELDS_OF_DRAINAGE, 8.0),
        )?;
        self.needed.push((strand, steps, whole));
        Ok(())
    }

    /// The land as a whole on such cells, with the margin of every named mask.
    fn whole_size(&self, size: Size) -> Size {
        let margin = whole_margin(self.recipe, &self.masks, self.cells(size));
        Size::covering(self.extent(), size.cell_m).grown(margin)
    }

    fn mask(
        &mut self,
        owner: Owner,
        at: (usize, usize),
        mask: &Mask,
        size: Size,
    ) -> Result<(), Box<Found>> {
        let halvings = blur_halvings(mask.blur_m, size.cell_m);
        let base = match halvings {
            0 => size,
            halvings => size.coarser(halvings),
        };
        let on = self.cells(base);
        if halvings > 0 {
            let margin = self.masks.margin(mask, on);
            self.needed.push((at.0, at.1, base.grown(margin)));
        }
        let blur = blur_margin(mask.blur_m, base.cell_m);
        let grow = grow_margin(mask.grow_on(on), base.cell_m);
        let wide = base.grown(blur).grown(grow);
        // Growing looks at every row within reach, blurring at every cell along two lines.
        let passes = 2.0 + 4.0 * blur as f64 + 2.0 * grow as f64;
        self.charge(owner, size, Cost::of(wide.cells(), FIELDS_OF_MASK, passes))?;
        if self.masks.needs_whole(mask) {
            self.whole(owner, at, base)?;
        }
        for term in &mask.terms {
            self.reading(owner, at, &term.of, wide)?;
        }
        Ok(())
    }

    fn reading(
        &mut self,
        owner: Owner,
        at: (usize, usize),
        reading: &Reading,
        size: Size,
    ) -> Result<(), Box<Found>> {
        let on = match reading.scale_halvings(size.cell_m) {
            0 => size,
            halvings => {
                let coarse = size.coarser(halvings);
                let margin = reading.margin(self.cells(coarse));
                self.needed.push((at.0, at.1, coarse.grown(margin)));
                coarse
            }
        };
        let near = on.grown(reading.margin(self.cells(on)));
        let cost = Cost::of(near.cells(), 3.0, reading.passes(near));
        self.charge(owner, size, cost)?;
        let Some(&other) = reading.refers_to().and_then(|name| self.masks.number(name)) else {
            return Ok(());
        };
        let on = match reading {
            Reading::Near { .. } => Size::covering(self.extent(), size.cell_m),
            _ => size,
        };
        match self.masks_seen.insert((other, at, on.key())) {
            true => self.mask(Owner::Mask(other), at, self.masks.numbered(other), on),
            false => Ok(()),
        }
    }
}
