//! What is done with shots, devices and files.

pub(crate) mod agreement;
pub(crate) mod balls;
pub(crate) mod device_socket;
pub(crate) mod devices;
pub(crate) mod doubtful;
pub(crate) mod entries;
pub(crate) mod exports;
pub(crate) mod figures;
pub(crate) mod imports;
pub(crate) mod marks;
