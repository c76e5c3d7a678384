//! What a few numbers can tell: means, intervals and fits, with their sources.
//!
//! Nothing here knows what the numbers are of.

pub(crate) mod crossing;
pub(crate) mod least_squares;
pub mod level;
pub mod looks;
pub mod many;
pub(crate) mod noncentral;
pub(crate) mod ordered;
pub mod own_line;
pub mod quantile;
pub mod summary;
pub(crate) mod warming;
