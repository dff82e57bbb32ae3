//! What wears the land down and builds it up: running water, rivers, dry
//! crumbling, snow, settling sediment. Each keeps a ledger.

mod basins;
mod crumble;
mod drainage;
mod flow_infinity;
mod geomorphology;
mod ledger;
mod radix_heap;
mod river_lines;
mod rivers;
mod schedule;
mod settle;
mod snow;
mod storm;
mod water;

pub use crumble::{Crumbled, Crumbling, crumble};
pub use drainage::{Drainage, FlowDirections, drain};
pub use geomorphology::{Geomorphology, geomorphology};
pub use ledger::{Imbalance, Ledger};
pub use river_lines::{RiverLine, RiverPoint, river_lines};
pub use rivers::{RiverLaw, river_step};
pub use schedule::{Level, Schedule};
pub use settle::{Settled, Settling, settle};
pub use snow::{Snow, Winter, snow};
pub use storm::{Country, Storm};
pub use water::{Washed, Water};
