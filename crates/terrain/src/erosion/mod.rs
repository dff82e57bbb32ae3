//! What wears the land down and builds it up: ages of rivers, slopes and sediment
//! (`age`, on `nodes`, in `beds` of rock), running water, dry crumbling, snow, settling
//! sediment. Each keeps a ledger.

mod age;
mod basins;
mod beds;
mod crumble;
mod drainage;
mod flow_infinity;
mod ledger;
mod levees;
mod nature;
mod neighbours;
mod nodes;
mod opened;
mod radix_heap;
mod river_lines;
mod schedule;
mod settle;
mod snow;
mod storm;
mod water;
mod ways_out;

pub use age::{AgeLaw, Aging, FIRM, Ground, Outlets, Side, keep_means, round_bottoms};
pub use beds::Beds;
pub use crumble::{Crumbled, Crumbling, crumble};
pub use drainage::{Drainage, FlowDirections, drain};
pub use ledger::{Account, Adjusted, Adjustment, Imbalance, Ledger, Let, Volume};
pub use levees::levees;
pub use nature::{
    Channels, Form, Forms, Geomorphology, Likeness, Nature, Spacing, geomorphology, likeness,
    nature,
};
pub use opened::{opened, reopened};
pub use river_lines::river_lines;
pub use schedule::{Level, Schedule};
pub use settle::{Settled, Settling, settle};
pub use snow::{Snow, Winter, snow};
pub use storm::{Country, Storm};
pub use water::{Washed, Water};
