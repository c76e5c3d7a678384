//! The physics worked out again from `docs/physics.md` alone: plain code, fixed steps, and
//! every number read from the page's own tables.

use nalgebra::Vector3;
use std::collections::HashMap;
use tally_core::physics::club::Club;
use tally_core::physics::conditions::Conditions;
use tally_core::physics::flight::fly;
use tally_core::physics::impact::{Delivery, strike};
use tally_core::physics::launch::Launch;
use tally_core::physics::run::fly_to_rest;
use tally_core::physics::turf::{Ground, Surface};
use tally_core::physics::wind::Wind;
use tally_core::vocabulary::keyed::Keyed;
use tally_core::vocabulary::units::{MPH, YARD};

type Vector = Vector3<f64>;

/// The numbers of the page.
struct Page {
    constants: HashMap<String, f64>,
    /// Rows of heads and of grounds, by their first cell.
    rows: HashMap<String, Vec<String>>,
    text: String,
}

impl Page {
    fn read() -> Self {
        let page = include_str!("../../../../docs/physics.md");
        let cells = |line: &str| -> Vec<String> {
            let inner = line.trim_matches('|').split('|');
            inner.map(|cell| cell.trim().to_owned()).collect()
        };
        let rows = page.lines().filter(|line| line.starts_with("| "));
        let mut rows: Vec<Vec<String>> = rows.map(cells).collect();
        // A head's row is the longest of those with its name.
        rows.sort_by_key(Vec::len);
        let constants = rows.iter().filter(|row| row[0].starts_with('`'));
        Page {
            constants: constants
                .map(|row| (row[0].replace('`', ""), row[1].parse().expect("a number")))
                .collect(),
            rows: rows
                .iter()
                .map(|row| (row[0].clone(), row[1..].to_vec()))
                .collect(),
            text: page.split_whitespace().collect::<Vec<_>>().join(" "),
        }
    }

    fn the(&self, name: &str) -> f64 {
        *self
            .constants
            .get(name)
            .unwrap_or_else(|| panic!("the page has no {name}"))
    }

    /// Every number of a cell, in order.
    fn numbers(text: &str) -> Vec<f64> {
        let kept = |c: char| c.is_ascii_digit() || c == '.';
        text.split(|c| !kept(c))
            .filter_map(|part| part.parse().ok())
            .collect()
    }
}

/// The air of some conditions.
struct Air {
    density: f64,
    viscosity: f64,
    wind: Vector,
}

fn air(conditions: &Conditions) -> Air {
    let (t, kelvin) = (conditions.temperature_c, conditions.temperature_c + 273.15);
    let pressure = 101_325.0 * (1.0 - 2.255_77e-5 * conditions.altitude_m).powf(5.255_88);
    let vapour = conditions.humidity_pct / 100.0 * 610.94 * (17.625 * t / (t + 243.04)).exp();
    let wind = conditions.wind.map_or(Vector::zeros(), |wind| {
        let from = wind.from_deg.to_radians();
        Vector::new(-from.cos(), from.sin(), 0.0) * wind.speed_mps
    });
    Air {
        density: (pressure - vapour) / (287.053 * kelvin) + vapour / (461.495 * kelvin),
        viscosity: 1.458e-6 * kelvin.powf(1.5) / (kelvin + 110.4),
        wind,
    }
}

/// Where a ball is, how fast, and how it spins.
#[derive(Clone, Copy)]
struct Ball {
    at: Vector,
    velocity: Vector,
    axis: Vector,
    spin: f64,
}

fn slope(page: &Page, air: &Air, ball: &Ball) -> (Vector, f64) {
    let (r, m) = (page.the("ball_radius"), page.the("ball_mass"));
    let rough = page.the("roughness");
    let share = (1.0 + ball.at.z.max(0.0) / rough).ln() / (1.0 + 10.0 / rough).ln();
    let u = ball.velocity - air.wind * share;
    let speed = u.norm();
    let s = ball.spin * r / speed;
    let re = 2.0 * air.density * r * speed / air.viscosity;
    let lift = page.the("lift_most") * s / (s + page.the("lift_half"));
    let drag = page.the("drag_least")
        + page.the("drag_spin") * s / (s + page.the("drag_half"))
        + page.the("drag_slow") * (-(re / page.the("slow_re")).powi(6)).exp();
    let push = 0.5 * air.density * std::f64::consts::PI * r * r / m;
    let turned = ball.axis.cross(&(u / speed));
    let pull = u * (-push * drag * speed) + turned * (push * lift * speed * speed);
    let gravity = Vector::z() * -page.the("gravity");
    (
        pull + gravity,
        -page.the("spin_decay") * ball.spin * speed / r,
    )
}

/// Steps of a millisecond until it comes down.
fn fall(page: &Page, air: &Air, mut ball: Ball) -> Ball {
    let h = 1e-3;
    loop {
        let moved = |by: f64, v: Vector, (a, w): (Vector, f64)| Ball {
            at: ball.at + v * by,
            velocity: ball.velocity + a * by,
            axis: ball.axis,
            spin: ball.spin + w * by,
        };
        let k1 = slope(page, air, &ball);
        let b2 = moved(h / 2.0, ball.velocity, k1);
        let k2 = slope(page, air, &b2);
        let b3 = moved(h / 2.0, b2.velocity, k2);
        let k3 = slope(page, air, &b3);
        let b4 = moved(h, b3.velocity, k3);
        let k4 = slope(page, air, &b4);
        let mean = |a: Vector, b: Vector, c: Vector, d: Vector| (a + b * 2.0 + c * 2.0 + d) / 6.0;
        let velocity = mean(ball.velocity, b2.velocity, b3.velocity, b4.velocity);
        let pull = mean(k1.0, k2.0, k3.0, k4.0);
        let next = moved(
            h,
            velocity,
            (pull, (k1.1 + 2.0 * k2.1 + 2.0 * k3.1 + k4.1) / 6.0),
        );
        if next.at.z <= 0.0 {
            let share = ball.at.z / (ball.at.z - next.at.z);
            return Ball {
                at: ball.at + (next.at - ball.at) * share,
                velocity: ball.velocity + (next.velocity - ball.velocity) * share,
                ..next
            };
        }
        ball = next;
    }
}

fn teed(launch: &Launch) -> Ball {
    let (up, away) = (
        launch.launch_angle_deg.to_radians(),
        launch.launch_direction_deg.to_radians(),
    );
    let tilt = launch.spin_axis_deg.to_radians();
    let along = Vector::new(up.cos() * away.cos(), -up.cos() * away.sin(), up.sin());
    let right = Vector::new(-away.sin(), -away.cos(), 0.0);
    Ball {
        at: Vector::zeros(),
        velocity: along * launch.ball_speed,
        axis: right * tilt.cos() - right.cross(&along) * tilt.sin(),
        spin: launch.spin_rate_rpm * std::f64::consts::PI / 30.0,
    }
}

/// Bounces and rolls a ball that came down, on a ground of the page.
fn to_rest(page: &Page, air: &Air, mut ball: Ball, name: &str, firmness: f64) -> Vector {
    let r = page.the("ball_radius");
    let row: Vec<Vec<f64>> = page.rows[name]
        .iter()
        .map(|cell| Page::numbers(cell))
        .collect();
    let dent = match row[0][..] {
        [share, soft, firm] => share * (soft - firm * firmness),
        [soft, firm] => soft - firm * firmness,
        _ => panic!("no dent in {row:?}"),
    };
    let rebound = page
        .text
        .split("Restitution is `")
        .nth(1)
        .expect("a restitution");
    let rebound = Page::numbers(rebound.split(';').next().expect("a formula"));
    let [a, b, c, fast, from, soft, firm] = rebound[..] else {
        panic!("{rebound:?}")
    };
    for _ in 0..200 {
        let level = Vector::new(ball.velocity.x, ball.velocity.y, 0.0);
        let (along, heading) = (level.norm(), level.normalize());
        let steep = (-ball.velocity.z).atan2(along);
        let tilt = page.the("dent_deg") * dent * ball.velocity.norm() / page.the("dent_speed");
        let tilt = (tilt * (2.0 * steep).sin())
            .clamp(0.0, page.the("dent_most_deg"))
            .to_radians();
        let normal = Vector::z() * tilt.cos() - heading * tilt.sin();
        let w = -ball.velocity.dot(&normal);
        let e = if w < from {
            a - b * w + c * w * w
        } else {
            fast
        };
        let away = w * (1.0 + e * row[3][0] * (soft + firm * firmness));
        let spin = ball.axis * ball.spin;
        let skin = ball.velocity + normal * w + spin.cross(&(normal * -r));
        let rub = skin.normalize() * -(2.0 / 7.0 * skin.norm()).min(row[1][0] * away)
            - heading * (row[2][0] * w / (w + page.the("grass_bends")) * along);
        ball.velocity += normal * away + rub;
        let spin = spin + (normal * -r).cross(&rub) / (0.4 * r * r);
        ball.spin = spin.norm();
        ball.axis = if ball.spin > 0.0 {
            spin / ball.spin
        } else {
            -Vector::y()
        };
        if ball.velocity.z < page.the("least_hop") {
            break;
        }
        if ball.velocity.z > page.the("airless_hop") {
            ball = fall(page, air, ball);
        } else {
            let time = 2.0 * ball.velocity.z / page.the("gravity");
            ball.at += Vector::new(ball.velocity.x, ball.velocity.y, 0.0) * time;
            ball.velocity.z = -ball.velocity.z;
        }
    }
    let spin = ball.axis * ball.spin;
    let rolling = ball.velocity * (5.0 / 7.0) + spin.cross(&Vector::z()) * (2.0 / 7.0 * r);
    let rolling = Vector::new(rolling.x, rolling.y, 0.0);
    let drag = (row[4][0] - row[4][1] * firmness) * page.the("gravity");
    ball.at + rolling * (rolling.norm() / (2.0 * drag))
}

/// Ball speed, launch angle, direction and spin of a delivery by a head of the page.
fn hit(page: &Page, head: &str, d: &Delivery) -> [f64; 4] {
    let row: Vec<f64> = page.rows[head]
        .iter()
        .map(|cell| cell.parse().expect("a number"))
        .collect();
    let [mass, spring, depth, about_v, about_h, bulge] = row[..6] else {
        panic!("{row:?}")
    };
    let (m, r) = (page.the("ball_mass"), page.the("ball_radius"));
    let (x, y) = (d.impact_toe, d.impact_high);
    let towards = |up: f64, right: f64| {
        let (up, right) = (up.to_radians(), right.to_radians());
        Vector::new(up.cos() * right.cos(), -up.cos() * right.sin(), up.sin())
    };
    let normal = towards(
        d.dynamic_loft_deg + (y * bulge).to_degrees(),
        d.face_angle_deg + (x * bulge).to_degrees(),
    );
    let club = towards(d.angle_of_attack_deg, d.club_path_deg)
        * (d.club_speed * (1.0 + page.the("toe_gain") * x));
    let vn = club.dot(&normal);
    let felt = 1.0 / (1.0 / mass + x * x / about_v + y * y / about_h);
    let off = (x * x + y * y) / page.the("spring_width").powi(2);
    let e = page.the("solid") - page.the("fading") * (vn - page.the("solid_at"))
        + spring * (-off).exp();
    let out = (1.0 + e.clamp(0.0, page.the("legal_restitution"))) * vn * felt / (felt + m);
    let gear = (Vector::y() * -(x / about_v) + Vector::z() * (y / about_h)) * (depth * m * out);
    let s = (club + gear) - normal * (club + gear).dot(&normal);
    let gripped = s * ((1.0 + page.the("grip")) / (3.5 + m / mass + m * depth * depth / about_h));
    let power = page.the("giving_way");
    let over = (gripped.norm() / (page.the("friction") * out)).powf(power);
    let slide = gripped / (1.0 + over).powf(1.0 / power);
    let (ball, spin) = (normal * out + slide, slide.cross(&normal) * (2.5 / r));
    let along = ball.normalize();
    let spin = spin - along * spin.dot(&along);
    [
        ball.norm(),
        along.z.asin().to_degrees(),
        (-along.y).atan2(along.x).to_degrees(),
        spin.norm() * 30.0 / std::f64::consts::PI,
    ]
}

fn swung(club: Club, share: f64) -> Delivery {
    Delivery {
        club_path_deg: 2.0,
        face_angle_deg: -1.0,
        impact_toe: 0.006,
        ..club.reference_delivery(share * club.reference_club_speed())
    }
}

#[test]
fn a_stranger_with_the_page_gets_the_same_impact() {
    let page = Page::read();
    for club in Club::all() {
        let delivery = swung(club, 0.9);
        let ours = strike(&delivery, &club.head()).unwrap();
        let theirs = hit(&page, club.label(), &delivery);
        let off = [
            ours.ball_speed - theirs[0],
            ours.launch_angle_deg - theirs[1],
            ours.launch_direction_deg - theirs[2],
            0.01 * (ours.spin_rate_rpm - theirs[3]),
        ];
        assert!(off.iter().all(|off| off.abs() < 0.01), "{club:?} {off:?}");
        let told: Vec<f64> = page.rows[club.label()][6..]
            .iter()
            .map(|c| c.parse().unwrap())
            .collect();
        let usual = club.reference_delivery(club.reference_club_speed());
        let ours = [
            usual.club_speed / MPH,
            usual.angle_of_attack_deg,
            usual.dynamic_loft_deg,
            1000.0 * usual.impact_high,
        ];
        assert!(
            ours.iter().zip(&told).all(|(a, b)| (a - b).abs() < 1e-9),
            "{club:?} {told:?}"
        );
    }
}

#[test]
fn a_stranger_with_the_page_gets_the_same_flight_and_run() {
    let page = Page::read();
    let mountain = Conditions {
        altitude_m: 1500.0,
        temperature_c: 8.0,
        ..Conditions::REFERENCE
    };
    let windy = Conditions {
        wind: Some(Wind {
            speed_mps: 7.0,
            from_deg: 60.0,
        }),
        ..Conditions::REFERENCE
    };
    for (conditions, surface, firmness) in [
        (Conditions::REFERENCE, Surface::Fairway, 0.5),
        (mountain, Surface::Green, 0.2),
        (windy, Surface::Fairway, 0.8),
    ] {
        for club in [Club::Driver, Club::Iron4, Club::Iron8, Club::WedgeSand] {
            let launch = strike(&swung(club, 0.85), &club.head()).unwrap();
            let conditions = Conditions {
                ground: Some(Ground { surface, firmness }),
                ..conditions
            };
            let there = air(&conditions);
            let landed = fall(&page, &there, teed(&launch));
            let ours = fly(&launch, &conditions).unwrap();
            let carry = landed.at.x.hypot(landed.at.y);
            assert!(
                (ours.carry - carry).abs() < 0.1 * YARD,
                "{club:?} {} {carry}",
                ours.carry
            );
            assert!((ours.side + landed.at.y).abs() < 0.1 * YARD, "{club:?}");
            let end = to_rest(&page, &there, landed, surface.key(), firmness);
            let total = fly_to_rest(&launch, &conditions).unwrap().1.total;
            let theirs = end.x.hypot(end.y);
            assert!(
                (total - theirs).abs() < 0.1 * YARD,
                "{club:?} {surface:?} {total} {theirs}"
            );
        }
    }
}
