//! What Rumek's tests stand on: a throw-away PostgreSQL cluster, a database for each test and a
//! browser that never outlives them.
//!
//! Everything started here hangs on a pipe to the test process: when that ends, however it ends,
//! the pipe closes and the guard stops what it guards.

mod browser;
mod cluster;
mod durable;
mod guard;

pub use browser::{Browser, Viewport};
pub use cluster::{TestDatabase, with_shared_cluster};
pub use durable::DurableCluster;
pub use guard::free_port;
