//! What the channels and marks of a trace are called, by the device line and in tables.

use tally_core::shots::trace::{Checkpoint, TraceChannel};

/// A field of samples.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct TraceField {
    /// Its name.
    pub name: &'static str,
    /// What it tells.
    pub channel: TraceChannel,
    /// What one of its unit is: in N for a force, 1 for a share of body weight or a torque.
    pub size: f64,
    force: bool,
}

impl TraceField {
    /// Whether it is a force that needs the player's mass.
    pub fn is_force(&self) -> bool {
        self.force
    }

    /// Whether it is a share of the body's weight.
    pub fn is_share(&self) -> bool {
        !self.force && self.channel != TraceChannel::Torque
    }
}

const fn field(name: &'static str, channel: TraceChannel, size: f64, force: bool) -> TraceField {
    TraceField {
        name,
        channel,
        size,
        force,
    }
}

/// Every field of samples.
pub const TRACE_FIELDS: [TraceField; 13] = {
    use TraceChannel as C;
    use tally_core::vocabulary::units::{POUND_WEIGHT as LB, STANDARD_GRAVITY as KG};
    [
        field("lead_pct_bw", C::Lead, 1.0, false),
        field("trail_pct_bw", C::Trail, 1.0, false),
        field("both_pct_bw", C::Both, 1.0, false),
        field("lead_n", C::Lead, 1.0, true),
        field("trail_n", C::Trail, 1.0, true),
        field("both_n", C::Both, 1.0, true),
        field("lead_kg", C::Lead, KG, true),
        field("trail_kg", C::Trail, KG, true),
        field("both_kg", C::Both, KG, true),
        field("lead_lb", C::Lead, LB, true),
        field("trail_lb", C::Trail, LB, true),
        field("both_lb", C::Both, LB, true),
        field("torque_nm", C::Torque, 1.0, false),
    ]
};

/// The field that a channel is written as.
pub fn field_of(channel: TraceChannel) -> &'static str {
    match channel {
        TraceChannel::Lead => "lead_pct_bw",
        TraceChannel::Trail => "trail_pct_bw",
        TraceChannel::Both => "both_pct_bw",
        TraceChannel::Torque => "torque_nm",
    }
}

/// Where a checkpoint stands, s.
pub const CHECKPOINTS: [(&str, Checkpoint); 3] = [
    ("lead_arm_level_s", Checkpoint::LeadArmLevel),
    ("shaft_level_s", Checkpoint::ShaftLevel),
    ("shaft_upright_s", Checkpoint::ShaftUpright),
];

/// What is wrong, and what to do, where forces come in two kinds of unit.
pub const FORCES_ARE_MIXED: [&str; 2] = [
    "stands beside forces in another unit",
    "give all forces in % of body weight, or all in N, kg or lb",
];
