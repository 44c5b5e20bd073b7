//! The real interface, driven in headless Chromium.

#![allow(clippy::unwrap_used, clippy::expect_used, clippy::panic, missing_docs)]

mod bench;
mod shots;
