//! Core.
