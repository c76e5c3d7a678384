//! What players take home.

pub mod pages;
