//! What wears the land down and builds it up: ages of rivers, slopes and sediment
//! (`age`, on `nodes`), running water, rivers, dry crumbling, snow, settling sediment.
//! Each keeps a ledger.

mod age;
mod basins;
mod crumble;
mod drainage;
mod flow_infinity;
mod geomorphology;
mod ledger;
mod likeness;
mod nodes;
mod radix_heap;
mod river_lines;
mod rivers;
mod schedule;
mod settle;
mod snow;
mod storm;
mod water;

pub use age::{AgeLaw, Aging, FIRM, Ground, Outlets};
pub use crumble::{Crumbled, Crumbling, crumble};
pub use drainage::{Drainage, FlowDirections, drain};
pub use geomorphology::{Geomorphology, geomorphology};
pub use ledger::{Imbalance, Ledger};
pub use likeness::{Likeness, likeness};
pub use river_lines::river_lines;
pub use rivers::{RiverLaw, river_step};
pub use schedule::{Level, Schedule};
pub use settle::{Settled, Settling, settle};
pub use snow::{Snow, Winter, snow};
pub use storm::{Country, Storm};
pub use water::{Washed, Water};
