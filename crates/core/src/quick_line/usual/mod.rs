//! What a line may mean where it does not say all: what things usually are, weighed by every figure beside them.

mod gear;
mod readings;
pub(super) mod things;
mod weights;

pub(super) use gear::granted;
pub(super) use readings::{Reading, readings};
