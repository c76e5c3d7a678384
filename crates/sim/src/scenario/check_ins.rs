//! Months of check-ins: a rise, a lay-off, changes of device, roof and head, a plateau, an off
//! day; and a slow way back after an operation.

use super::{BARN, DECK, DemoSession, session};
use crate::monitor::Monitor::{Camera, Radar};
use tally_core::physics::club::Club;
use tally_core::session::purpose::Purpose;

/// Check-ins of a player: when, where, the temperature, the device, the seed, and the share of
/// their usual speed.
macro_rules! check_ins {
    ($player:literal, $club:ident, $balls:literal;
     $($start:literal $place:ident $temperature:literal $monitor:ident $seed:literal $share:literal;)*) => {
        (
            $player,
            &[$(session(
                $start,
                Purpose::Benchmark,
                $place,
                $temperature,
                Club::$club,
                $monitor,
                $seed,
                &[("Check-in", $balls, 0.0, $share)],
                &[],
            )),*],
        )
    };
}

/// Check-ins by the place of their player.
#[rustfmt::skip]
pub const CHECK_INS: [(usize, &[DemoSession]); 6] = {
    [
        // A rise, a lay-off, a plateau and an off day; the driver is another from 3 March on.
        check_ins!(3, Driver, 10;
            "2025-11-04T17:00:00Z" BARN 9.0 Radar 4000 0.955;
            "2025-11-11T17:00:00Z" BARN 8.0 Radar 4001 0.959;
            "2025-11-18T17:00:00Z" BARN 6.0 Radar 4002 0.967;
            "2025-11-25T17:00:00Z" BARN 5.0 Radar 4003 0.971;
            "2025-12-02T17:00:00Z" BARN 4.0 Radar 4004 0.981;
            "2025-12-09T17:00:00Z" BARN 5.0 Radar 4005 0.986;
            "2025-12-16T17:00:00Z" BARN 4.0 Radar 4006 0.993;
            "2026-01-27T17:00:00Z" BARN 5.0 Radar 4007 0.977;
            "2026-02-03T17:00:00Z" BARN 6.0 Radar 4008 0.985;
            "2026-02-10T17:00:00Z" BARN 6.0 Radar 4009 0.992;
            "2026-02-17T17:00:00Z" DECK 7.0 Camera 4010 0.998;
            "2026-03-03T17:00:00Z" DECK 8.0 Radar 4011 1.007;
            "2026-03-10T17:00:00Z" DECK 8.0 Radar 4012 1.005;
            "2026-03-17T17:00:00Z" DECK 9.0 Radar 4013 1.008;
            "2026-03-24T17:00:00Z" DECK 10.0 Radar 4014 1.006;
            "2026-03-31T17:00:00Z" DECK 11.0 Radar 4015 1.007;
            "2026-04-07T17:00:00Z" DECK 12.0 Radar 4016 1.006;
            "2026-04-16T17:00:00Z" DECK 12.0 Radar 4017 0.968;
        ),
        // Down by an operation, and the way back.
        check_ins!(2, Iron5, 8;
            "2025-10-06T10:00:00Z" BARN 12.0 Camera 3000 1.03;
            "2025-10-20T10:00:00Z" BARN 11.0 Camera 3001 1.026;
            "2025-11-03T10:00:00Z" BARN 9.0 Camera 3002 1.031;
            "2026-02-16T10:00:00Z" BARN 6.0 Camera 3003 0.94;
            "2026-03-02T10:00:00Z" BARN 8.0 Camera 3004 0.957;
            "2026-03-16T10:00:00Z" BARN 9.0 Camera 3005 0.971;
            "2026-03-30T10:00:00Z" BARN 10.0 Camera 3006 0.982;
            "2026-04-13T10:00:00Z" BARN 12.0 Camera 3007 0.988;
        ),
        // A slow rise, under a roof until February and by another device after.
        check_ins!(0, Wood5, 8;
            "2025-10-11T09:00:00Z" BARN 14.0 Camera 4100 0.968;
            "2025-10-25T09:00:00Z" BARN 12.0 Camera 4101 0.965;
            "2025-11-08T09:00:00Z" BARN 9.0 Camera 4102 0.974;
            "2025-11-22T09:00:00Z" BARN 6.0 Camera 4103 0.979;
            "2025-12-06T09:00:00Z" BARN 4.0 Camera 4104 0.985;
            "2025-12-20T09:00:00Z" BARN 3.0 Camera 4105 0.992;
            "2026-01-31T09:00:00Z" BARN 5.0 Camera 4106 0.998;
            "2026-02-28T09:00:00Z" DECK 7.0 Radar 4107 1.0;
            "2026-03-14T09:00:00Z" DECK 9.0 Radar 4108 1.002;
        ),
        // A rise with a driver that was fitted before it.
        check_ins!(1, Driver, 10;
            "2025-10-18T15:00:00Z" DECK 13.0 Radar 4200 0.938;
            "2025-11-01T15:00:00Z" DECK 10.0 Radar 4201 0.945;
            "2025-11-15T15:00:00Z" BARN 8.0 Radar 4202 0.953;
            "2025-11-29T15:00:00Z" BARN 6.0 Radar 4203 0.957;
            "2025-12-13T15:00:00Z" BARN 5.0 Radar 4204 0.968;
            "2026-01-10T15:00:00Z" BARN 4.0 Radar 4205 0.981;
            "2026-02-07T15:00:00Z" BARN 5.0 Radar 4206 0.989;
            "2026-03-07T15:00:00Z" DECK 9.0 Radar 4207 0.998;
            "2026-03-28T15:00:00Z" DECK 11.0 Radar 4208 1.004;
        ),
        // A child who grows.
        check_ins!(4, Iron7, 8;
            "2025-10-11T13:00:00Z" DECK 14.0 Radar 4300 0.95;
            "2025-11-08T13:00:00Z" DECK 9.0 Radar 4301 0.958;
            "2025-12-06T13:00:00Z" BARN 5.0 Radar 4302 0.97;
            "2026-01-17T13:00:00Z" BARN 4.0 Radar 4303 0.978;
            "2026-02-14T13:00:00Z" BARN 6.0 Radar 4304 0.99;
        ),
        // Another.
        check_ins!(5, Iron7, 8;
            "2025-11-08T14:00:00Z" DECK 9.0 Radar 4400 0.93;
            "2025-12-06T14:00:00Z" BARN 5.0 Radar 4401 0.95;
            "2026-01-17T14:00:00Z" BARN 4.0 Radar 4402 0.965;
            "2026-02-14T14:00:00Z" BARN 6.0 Radar 4403 0.99;
        ),
    ]
};
