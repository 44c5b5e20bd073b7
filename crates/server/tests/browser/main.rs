//! The real interface, driven in headless Chromium.

#![allow(clippy::unwrap_used, clippy::expect_used, clippy::panic, missing_docs)]

mod access;
mod bench;
mod chains;
mod files;
mod keeping;
mod logs;
mod lost;
mod newcomer;
mod planning;
mod rescues;
mod runs;
mod shelf;
mod shots;
mod spoiled;
mod tabs;
mod trouble;
