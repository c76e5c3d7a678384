use tally_core::{air::Conditions, club::Club, units::*, window::*};
fn main() {
    for aim in [Aim::Carry, Aim::Total] {
        for mph in [90.0, 110.0, 130.0, 150.0, 167.0, 180.0] {
            let w = window(&Question {
                speed: Speed::Ball(mph * MPH),
                club: Club::Driver,
                aim,
                conditions: Conditions::REFERENCE,
                freedom: Freedom::of(Club::Driver),
                tolerance: 3.0 * YARD,
            })
            .unwrap();
            let b = w.best;
            println!(
                "{mph} {:6.1} launch {:.1} [{:.1} {:.1}] spin {:.0} [{:.0} {:.0}] attack {:.1} loft {:.1} club {:.1} land {:.1} run {:.0}",
                b.distance / YARD,
                b.launch.launch_angle_deg,
                w.launch_angle_deg.from,
                w.launch_angle_deg.to,
                b.launch.spin_rate_rpm,
                w.spin_rate_rpm.from,
                w.spin_rate_rpm.to,
                b.delivery.angle_of_attack_deg,
                b.delivery.dynamic_loft_deg,
                b.delivery.club_speed / MPH,
                b.flight.landing_angle_deg,
                b.rest.run / YARD
            );
        }
    }
    for mph in [70.0, 80.0, 90.0, 100.0, 113.0, 120.0] {
        let s = std::time::Instant::now();
        let b = best(&Question {
            speed: Speed::Club(mph * MPH),
            club: Club::Driver,
            aim: Aim::Carry,
            conditions: Conditions::REFERENCE,
            freedom: Freedom::of(Club::Driver),
            tolerance: 3.0 * YARD,
        })
        .unwrap();
        let r = Club::Driver.reference_launch(mph * MPH);
        let c = tally_core::flight::fly(&r, &Conditions::REFERENCE).unwrap();
        println!(
            "{mph} best {:.1} smash {:.3} ref {:.1} eff {:.3} {:?}",
            b.distance / YARD,
            b.launch.ball_speed / b.delivery.club_speed,
            c.carry / YARD,
            c.carry / b.distance,
            s.elapsed()
        );
    }
}
