//! What `xtask` wrote. Nothing but data.

use crate::Parts;
use crate::aliases::Compound;
use crate::matching::RegionRow;
use crate::numbers::{Grouping, Shape, Symbols};
use crate::plurals::{Category, Operand, Relation, Rule};

/// Categories of start and end, and of the range.
pub(crate) type RangeRow = (Category, Category, Category);

/// Name, first minute, and the minute it ends before.
pub(crate) type PeriodRow = (&'static str, u16, u16);

pub(crate) mod aliases;
pub(crate) mod likely;
pub(crate) mod locales;
pub(crate) mod matching;
#[cfg(feature = "zone-names")]
pub(crate) mod metazones;
pub(crate) mod numbers;
pub(crate) mod parents;
pub(crate) mod plurals;
pub(crate) mod registry;
pub(crate) mod scripts;
pub(crate) mod supplement;
pub(crate) mod zones;
