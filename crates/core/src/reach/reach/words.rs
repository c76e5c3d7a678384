//! The answer to a question of reach, in words.

use super::furthest::Furthest;
use super::{CHOSEN, EfficiencyLevel, From, ReachQuestion, TodayRead};
use crate::reach::window::Aim;
use crate::verdicts::working::{Working, air_row, figure_row, row};
use crate::vocabulary::sentence::Sentence;
use crate::vocabulary::units::Dimension;

/// What to change first and what it is worth.
pub(super) fn sentence(
    question: &ReachQuestion,
    levels: &[EfficiencyLevel],
    today: Option<&TodayRead>,
    furthest: &Furthest,
) -> Sentence {
    use Dimension::{Distance, Speed};
    let kind = match question.aim {
        Aim::Carry => " of carry",
        Aim::Total => " in total",
    };
    let target = match question.from {
        From::ClubSpeed(speed) => return by_speed(speed, levels, kind),
        From::Target(target) => target,
    };
    let asked = Sentence::default().figure(target, Distance).words(kind);
    let Some(today) = today else {
        return untried(asked, levels);
    };
    if today.distance >= target {
        return asked
            .words(" is there already: ")
            .figure(today.distance, Distance)
            .words(" at ")
            .figure(today.club_speed, Speed)
            .words(".");
    }
    let gain = question.rules.solid(question.club) * furthest.at(today.club_speed) - today.distance;
    let more = |speed: f64| (speed - today.club_speed).max(0.0);
    // What the model cannot tell is no gain.
    let told_apart = question.tolerance.max(levels[0].window.model_error);
    if gain <= told_apart {
        let Some(speed) = today.speed_needed else {
            return asked.words(" is beyond any speed as the ball is struck today.");
        };
        return asked
            .words(" needs ")
            .figure(more(speed), Speed)
            .words(" more club speed: the strike is solid already.");
    }
    if today.distance + gain >= target {
        return asked
            .words(" is there without more speed: launch and strike first, worth ")
            .figure(gain, Distance)
            .words(".");
    }
    let said = asked
        .words(" needs launch and strike first, worth ")
        .figure(gain, Distance);
    match furthest.speed_for(target / question.rules.solid(question.club)) {
        Ok(speed) => said
            .words(", then ")
            .figure(more(speed), Speed)
            .words(" more club speed."),
        Err(_) => said.words(", and more speed than anyone has."),
    }
}

/// Where the player stands today.
pub(super) fn detail(
    today: Option<&TodayRead>,
    furthest: &Furthest,
    raised: f64,
) -> Option<Sentence> {
    use Dimension::{Distance, Speed};
    let today = today?;
    let percent = (today.efficiency * 100.0).round();
    let said = Sentence::of("Last session ")
        .figure(today.distance, Distance)
        .words(" at ")
        .figure(today.club_speed, Speed)
        .words(format!(
            ", {percent:.0} % of the furthest. With everything right that speed gives "
        ))
        .bare(furthest.at(today.club_speed), Distance)
        .words(".");
    Some(if raised > 1.0 {
        said.words(format!(
            " This player’s balls went {:.0} % further than the model, which is raised to them.",
            ((raised - 1.0) * 100.0).max(1.0)
        ))
    } else {
        said
    })
}

/// How the answer was worked out.
pub(super) fn working(
    question: &ReachQuestion,
    levels: &[EfficiencyLevel],
    raised: f64,
) -> Working {
    let percent = |share: f64| Sentence::of(format!("{:.0} %", 100.0 * share));
    let asked = match question.from {
        From::Target(target) => figure_row("Distance", target, Dimension::Distance),
        From::ClubSpeed(speed) => figure_row("Club speed", speed, Dimension::Speed),
    };
    let range = |[from, to]: [f64; 2]| {
        Sentence::default()
            .figure(from, Dimension::Angle)
            .words(" to ")
            .figure(to, Dimension::Angle)
    };
    let freedom = &question.freedom;
    let results = levels.iter().map(|level| {
        let said = Sentence::default()
            .figure(level.club_speed, Dimension::Speed)
            .words(" for ")
            .figure(level.distance, Dimension::Distance)
            .words(", the furthest at that speed ")
            .bare(level.window.best.distance, Dimension::Distance);
        row(level.label, said)
    });
    Working {
        inputs: vec![
            asked,
            row("Club", Sentence::of(question.club.label())),
            air_row(&question.conditions),
            row("Angle of attack", range(freedom.angle_of_attack_deg)),
            row("Dynamic loft", range(freedom.dynamic_loft_deg)),
        ],
        formula: vec![
            Sentence::of(
                "The furthest at a club speed: every attack and loft above is struck, flown and, for a total, let run; the best is searched on ever finer grids.",
            ),
            Sentence::of(
                "Efficiency = distance / the furthest at that club speed. A distance needs the speed whose furthest, times the efficiency, reaches it.",
            ),
            Sentence::of(
                "A session's carry is brought into these conditions by the flight model's ratio, shot by shot; its speed and distance are means of the kept shots.",
            ),
        ],
        rules: vec![
            row("Solid", percent(question.rules.solid(question.club))),
            row("Typical", percent(question.rules.typical(question.club))),
            row(
                "The model’s furthest, raised to this player’s balls",
                Sentence::of(format!("× {raised:.2}")),
            ),
            figure_row(
                "The model’s own error",
                levels[0].window.model_error,
                Dimension::Distance,
            ),
            figure_row(
                "As good as the best within",
                question.tolerance,
                Dimension::Distance,
            ),
        ],
        results: results.collect(),
        sources: vec![
            "Impact: Cochran & Stobbs 1968; Penner 2001, 2003. Ground: Penner 2002.".to_owned(),
            "Flight: Bearman & Harvey 1976; Smits & Smith 1994, calibrated on published averages."
                .to_owned(),
        ],
    }
}

/// What a club speed is worth.
fn by_speed(speed: f64, levels: &[EfficiencyLevel], kind: &str) -> Sentence {
    use Dimension::{Distance, Speed};
    let all = Sentence::default()
        .figure(speed, Speed)
        .words(" is worth ")
        .figure(levels[0].distance, Distance)
        .words(format!("{kind} with everything right"));
    others(all, levels, |level| (level.distance, Distance))
}

/// What a distance takes of somebody whose balls are not known.
fn untried(asked: Sentence, levels: &[EfficiencyLevel]) -> Sentence {
    use Dimension::Speed;
    let all = asked
        .words(" needs ")
        .figure(levels[0].club_speed, Speed)
        .words(" of club speed with everything right");
    others(all, levels, |level| (level.club_speed, Speed))
}

/// The same less well struck, level by level.
fn others(
    said: Sentence,
    levels: &[EfficiencyLevel],
    of: impl Fn(&EfficiencyLevel) -> (f64, Dimension),
) -> Sentence {
    levels[1..]
        .iter()
        .filter(|level| level.label != CHOSEN)
        .fold(said, |said, level| {
            let (value, dimension) = of(level);
            said.words(", ")
                .bare(value, dimension)
                .words(format!(" {}", level.label.to_lowercase()))
        })
        .words(".")
}
