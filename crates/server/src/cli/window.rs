//! `amber-tally window`: the best launch and spin of a speed, as JSON.

use clap::{Args, ValueEnum};
use serde_json::{Value, json};
use tally_core::physics::ball_flight::BallFlight;
use tally_core::physics::club::Club;
use tally_core::physics::conditions::Conditions;
use tally_core::physics::turf::{Ground, Surface};
use tally_core::physics::wind::Wind;
use tally_core::reach::window::{self, Freedom, Map, Question, Range, Speed, deliverable, map};
use tally_core::verdicts::house_rules::HouseRules;
use tally_core::vocabulary::invalid::{Invalid, within};
use tally_core::vocabulary::keyed::Keyed;
use tally_core::vocabulary::units::{MPH, YARD};

/// The question, in the units of its options.
#[derive(Args)]
pub struct Window {
    /// Ball speed, mph
    #[arg(
        long,
        required_unless_present = "club_speed_mph",
        conflicts_with = "club_speed_mph"
    )]
    ball_speed_mph: Option<f64>,
    /// Club speed, mph, in place of the ball speed
    #[arg(long)]
    club_speed_mph: Option<f64>,
    /// Which distance is to be long
    #[arg(long, value_enum)]
    aim: Aim,
    /// The club: driver, wood3, iron6 and so on
    #[arg(long, default_value = "driver")]
    club: String,
    /// Least angle of attack, deg; without it, what the club allows
    #[arg(long, allow_negative_numbers = true, requires = "attack_to_deg")]
    attack_from_deg: Option<f64>,
    /// Most angle of attack, deg
    #[arg(long, allow_negative_numbers = true, requires = "attack_from_deg")]
    attack_to_deg: Option<f64>,
    /// Distance to the best within which launch and spin are as good, yd
    #[arg(long)]
    tolerance_yd: Option<f64>,
    /// Height above the sea, m
    #[arg(long, default_value_t = 0.0, allow_negative_numbers = true)]
    altitude_m: f64,
    /// Temperature, °C
    #[arg(long, default_value_t = 25.0, allow_negative_numbers = true)]
    temperature_c: f64,
    /// Temperature of the ball, °C, when it is not the air's
    #[arg(long, allow_negative_numbers = true)]
    ball_temperature_c: Option<f64>,
    /// With a ball that the air holds back on purpose
    #[arg(long)]
    reduced_flight: bool,
    /// Relative humidity, %
    #[arg(long, default_value_t = 50.0)]
    humidity_pct: f64,
    /// Pressure at the place, hPa, in place of the altitude
    #[arg(long)]
    pressure_hpa: Option<f64>,
    /// Wind ten metres up, m/s
    #[arg(long, requires = "wind_from_deg")]
    wind_mps: Option<f64>,
    /// Where it comes from: 0 against, 90 from the right, 180 from behind
    #[arg(long, allow_negative_numbers = true, requires = "wind_mps")]
    wind_from_deg: Option<f64>,
    /// What the ball comes down on
    #[arg(long, value_enum, default_value = "fairway")]
    surface: OnGround,
    /// How firm it is: 0 soft, 1 hard
    #[arg(long, default_value_t = 0.5)]
    firmness: f64,
    /// Adds the contour lines of the distance over launch and spin
    #[arg(long)]
    map: bool,
}

#[derive(Clone, Copy, ValueEnum)]
enum Aim {
    Carry,
    Total,
}

#[derive(Clone, Copy, ValueEnum)]
enum OnGround {
    Fairway,
    Green,
}

/// Answers on standard output.
///
/// # Errors
/// [`Invalid`] naming the option.
pub fn run(args: &Window) -> Result<(), Invalid> {
    println!("{:#}", answer(args)?);
    Ok(())
}

fn answer(args: &Window) -> Result<Value, Invalid> {
    let question = question(args)?;
    let found = window::window(&question)?;
    let best = found.best;
    let range = |range: Range| json!([round(range.from, 2), round(range.to, 2)]);
    let mut told = json!({
        "aim": match args.aim { Aim::Carry => "carry", Aim::Total => "total" },
        "club": question.club.key(),
        "tolerance_yd": round(found.tolerance / YARD, 2),
        "best": {
            "carry_yd": round(best.flight.carry / YARD, 2),
            "total_yd": round(best.rest.total / YARD, 2),
            "club_speed_mph": round(best.delivery.club_speed / MPH, 2),
            "ball_speed_mph": round(best.launch.ball_speed / MPH, 2),
            "smash_factor": round(best.launch.ball_speed / best.delivery.club_speed, 3),
            "attack_angle_deg": round(best.delivery.angle_of_attack_deg, 2),
            "dynamic_loft_deg": round(best.delivery.dynamic_loft_deg, 2),
            "launch_angle_deg": round(best.launch.launch_angle_deg, 2),
            "spin_rate_rpm": round(best.launch.spin_rate_rpm, 0),
            "apex_yd": round(best.flight.apex / YARD, 2),
            "landing_angle_deg": round(best.flight.landing_angle_deg, 2),
        },
        "within_tolerance": {
            "launch_angle_deg": range(found.launch_angle_deg),
            "spin_rate_rpm": range(found.spin_rate_rpm),
            "landing_angle_deg": range(found.landing_angle_deg),
            "attack_angle_deg": range(found.angle_of_attack_deg),
            "dynamic_loft_deg": range(found.dynamic_loft_deg),
        },
    });
    if args.map {
        told["map"] = map_value(&drawn(&question, &found)?);
    }
    Ok(told)
}

fn question(args: &Window) -> Result<Question, Invalid> {
    let club = Club::from_key("club", &args.club)?;
    let speed = match (args.ball_speed_mph, args.club_speed_mph) {
        (Some(mph), _) => Speed::Ball(within("ball_speed_mph", mph, 27.0..=241.0, "mph")? * MPH),
        (None, Some(mph)) => Speed::Club(within("club_speed_mph", mph, 23.0..=167.0, "mph")? * MPH),
        (None, None) => return Err(Invalid::missing("ball_speed_mph", "give --ball-speed-mph")),
    };
    let freedom = Freedom::of(club);
    let tolerance = match args.tolerance_yd {
        Some(yd) => within("tolerance_yd", yd, 0.2..=100.0, "yd")? * YARD,
        None => HouseRules::default().window_tolerance,
    };
    Ok(Question {
        speed,
        club,
        aim: match args.aim {
            Aim::Carry => window::Aim::Carry,
            Aim::Total => window::Aim::Total,
        },
        conditions: Conditions {
            altitude_m: args.altitude_m,
            temperature_c: args.temperature_c,
            ball_temperature_c: args.ball_temperature_c,
            ball_flight: args.reduced_flight.then_some(BallFlight::REDUCED),
            humidity_pct: args.humidity_pct,
            pressure_hpa: args.pressure_hpa,
            wind: args
                .wind_mps
                .zip(args.wind_from_deg)
                .map(|(speed_mps, from_deg)| Wind {
                    speed_mps,
                    from_deg,
                }),
            ground: Some(Ground {
                surface: match args.surface {
                    OnGround::Fairway => Surface::Fairway,
                    OnGround::Green => Surface::Green,
                },
                firmness: args.firmness,
            }),
        },
        freedom: match args.attack_from_deg.zip(args.attack_to_deg) {
            Some((least, most)) => freedom.with_attack(least, most)?,
            None => freedom,
        },
        useful: HouseRules::default().useful(),
        tolerance,
    })
}

fn drawn(question: &Question, found: &window::Window) -> Result<Map, Invalid> {
    let outline = deliverable(question)?;
    let side = |i: usize| Range::over(outline.iter().map(|point| point[i]));
    map(
        found.best.launch.ball_speed,
        &question.conditions,
        question.aim,
        [side(0), side(1)],
        5.0 * YARD,
        found.best.distance - found.tolerance,
    )
}

fn map_value(map: &Map) -> Value {
    let rings = |rings: &[Vec<[f64; 2]>]| -> Value {
        let point = |p: &[f64; 2]| json!([round(p[0], 2), round(p[1], 0)]);
        let ring = |ring: &Vec<[f64; 2]>| ring.iter().map(point).collect::<Value>();
        rings.iter().map(ring).collect()
    };
    json!({
        "axes": ["launch_angle_deg", "spin_rate_rpm"],
        "levels": map.levels.iter().map(|level| json!({
            "distance_yd": round(level.distance / YARD, 2),
            "lines": rings(&level.lines),
        })).collect::<Value>(),
        "region": rings(&map.region),
    })
}

fn round(value: f64, decimals: i32) -> f64 {
    let scale = 10_f64.powi(decimals);
    (value * scale).round() / scale
}
