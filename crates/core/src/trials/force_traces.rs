//! Traces of a force session, before and after: their means with what those might as well be,
//! in one picture against the time before impact, with the peaks and when they came.

use crate::shots::trace::{Checkpoint, Trace, TraceChannel};
use crate::statistics::summary::{Estimate, summarise};
use crate::verdicts::house_rules::HouseRules;
use crate::vocabulary::keyed::Keyed;
use crate::vocabulary::sentence::Sentence;
use crate::vocabulary::units::Dimension;
use chrono::NaiveDate;
use serde::Serialize;
use utoipa::ToSchema;

/// Longest before and after impact that is drawn, s.
const DRAWN_S: [f64; 2] = [1.5, 0.3];
/// From one point of the picture to the next, s.
const STEP_S: f64 = 0.005;

/// Traces that were made with the same in mind.
#[derive(Debug, Clone, PartialEq)]
pub struct TraceSet {
    /// What it is called.
    pub label: String,
    /// The traces.
    pub traces: Vec<Trace>,
}

/// The mean of a channel over a set.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct TraceMean {
    /// The channel.
    pub channel: TraceChannel,
    /// Mean, and the ends of its interval, at each time of the picture.
    pub line: Vec<[f64; 3]>,
    /// Its highest value, % of body weight or N·m.
    pub peak: Estimate,
    /// When it came, s before impact.
    pub when: Estimate,
}

/// A set, told.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct TraceSetTold {
    /// What it is called.
    pub label: String,
    /// Traces in it that have an impact.
    pub n: usize,
    /// Its channels.
    pub means: Vec<TraceMean>,
    /// When the club was where, on average, the earliest first.
    pub checkpoints: Vec<CheckpointTold>,
}

/// When the club was somewhere.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, ToSchema)]
pub struct CheckpointTold {
    /// Where.
    pub checkpoint: Checkpoint,
    /// What it is called.
    #[schema(value_type = String)]
    pub label: &'static str,
    /// Mean time, s before impact.
    pub before_s: f64,
    /// Traces that tell it.
    pub n: usize,
}

/// Before and after.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct ForceTraces {
    /// Times of the picture, s before impact, the earliest first.
    pub before_s: Vec<f64>,
    /// The first set and the last.
    pub sets: Vec<TraceSetTold>,
    /// When vertical peaks come, and whether they can still help.
    pub said: Vec<Sentence>,
    /// Whether what an earlier session ended with was there when this one began.
    pub stayed: Vec<Sentence>,
    /// What is wrong with some of the traces.
    pub doubts: Vec<Sentence>,
    /// How long before impact a vertical peak can still help, s.
    pub early_s: f64,
}

/// An earlier session of the same player.
#[derive(Debug, Clone, PartialEq)]
pub struct EarlierTraces {
    /// Its day, and the day of the session that is held against it.
    pub on: [NaiveDate; 2],
    /// Its sets, in the order they were made.
    pub sets: Vec<TraceSet>,
}

/// Reads sets of traces in the order they were made, and what is left of what an earlier session
/// ended with; nothing without a trace with an impact.
pub fn force_traces(
    sets: &[TraceSet],
    earlier: Option<&EarlierTraces>,
    rules: &HouseRules,
) -> Option<ForceTraces> {
    let placed = |set: &TraceSet| {
        let marked = set
            .traces
            .iter()
            .filter(|trace| trace.marks.impact_s.is_some());
        (set.label.clone(), marked.cloned().collect::<Vec<Trace>>())
    };
    let mut with: Vec<(String, Vec<Trace>)> = sets
        .iter()
        .map(placed)
        .filter(|(_, traces)| !traces.is_empty())
        .collect();
    if with.is_empty() {
        return None;
    }
    // Drills in between are no test of anything.
    if with.len() > 2 {
        with.drain(1..with.len() - 1);
    }
    let all = with.iter().flat_map(|(_, traces)| traces);
    let least = |of: &dyn Fn(&Trace) -> f64| all.clone().map(of).fold(f64::INFINITY, f64::min);
    let samples = |trace: &Trace| trace.channels.values().map(Vec::len).min().unwrap_or(0) as f64;
    let from = least(&|trace| trace.marks.impact_s.unwrap_or(0.0)).min(DRAWN_S[0]);
    let last = |trace: &Trace| (samples(trace) - 1.0) / trace.rate_hz;
    let after = |trace: &Trace| last(trace) - trace.marks.impact_s.unwrap_or(0.0);
    let to = least(&after).min(DRAWN_S[1]);
    let steps = ((from + to) / STEP_S).floor() as usize;
    let before_s: Vec<f64> = (0..=steps).map(|i| from - i as f64 * STEP_S).collect();
    let told: Vec<TraceSetTold> = with
        .iter()
        .map(|(label, traces)| TraceSetTold {
            label: label.clone(),
            n: traces.len(),
            means: TraceChannel::all()
                .filter_map(|channel| mean_of(channel, traces, &before_s, rules))
                .collect(),
            checkpoints: checkpoints(traces),
        })
        .collect();
    Some(ForceTraces {
        said: said(&told, rules),
        stayed: earlier.map_or_else(Vec::new, |earlier| {
            stayed(earlier, sets.iter().find(|set| with_impact(set)), rules)
        }),
        doubts: doubts(sets),
        early_s: rules.peak_early,
        sets: told,
        before_s,
    })
}

fn mean_of(
    channel: TraceChannel,
    traces: &[Trace],
    before_s: &[f64],
    rules: &HouseRules,
) -> Option<TraceMean> {
    let with: Vec<&Trace> = traces
        .iter()
        .filter(|trace| trace.channels.contains_key(&channel))
        .collect();
    let told = |values: &[f64]| {
        let summary = summarise(values, rules.interval_level)?;
        Some(summary.interval.unwrap_or(Estimate {
            value: summary.mean,
            low: summary.mean,
            high: summary.mean,
            n: 1,
        }))
    };
    let line = before_s.iter().map(|before| {
        let values: Vec<f64> = with.iter().filter_map(|t| t.at(channel, *before)).collect();
        told(&values).map(|e| [e.value, e.low, e.high])
    });
    let line: Vec<[f64; 3]> = line.collect::<Option<_>>()?;
    let peaks: Vec<[f64; 2]> = with
        .iter()
        .filter_map(|trace| trace.peak(channel))
        .collect();
    let part = |i: usize| told(&peaks.iter().map(|peak| peak[i]).collect::<Vec<f64>>());
    Some(TraceMean {
        channel,
        line,
        peak: part(0)?,
        when: part(1)?,
    })
}

fn checkpoints(traces: &[Trace]) -> Vec<CheckpointTold> {
    let told = Checkpoint::all().filter_map(|checkpoint| {
        let before = traces.iter().filter_map(|trace| {
            let at = trace.marks.checkpoints.get(&checkpoint)?;
            Some(trace.marks.impact_s? - at)
        });
        let before: Vec<f64> = before.collect();
        (!before.is_empty()).then(|| CheckpointTold {
            checkpoint,
            label: checkpoint.in_words(),
            before_s: before.iter().sum::<f64>() / before.len() as f64,
            n: before.len(),
        })
    });
    let mut told: Vec<CheckpointTold> = told.collect();
    told.sort_by(|a, b| b.before_s.total_cmp(&a.before_s));
    told
}

/// Which checkpoints a moment lies between, where some are known: ", between shaft level and
/// shaft upright".
fn among(checkpoints: &[CheckpointTold], before_s: f64) -> String {
    let earlier = checkpoints.iter().rfind(|of| of.before_s >= before_s);
    let later = checkpoints.iter().find(|of| of.before_s < before_s);
    match (earlier, later) {
        _ if before_s < 0.0 => String::new(),
        (None, None) => String::new(),
        (None, Some(later)) => format!(", before {}", later.label),
        (Some(earlier), None) => format!(", between {} and impact", earlier.label),
        (Some(earlier), Some(later)) => {
            format!(", between {} and {}", earlier.label, later.label)
        }
    }
}

fn name_of(channel: TraceChannel) -> &'static str {
    match channel {
        TraceChannel::Lead => "The lead foot",
        TraceChannel::Trail => "The trail foot",
        TraceChannel::Both => "Both feet together",
        TraceChannel::Torque => "Torque",
    }
}

/// When each peak comes, and how that changed: "142 ms earlier: now 128 ms before impact".
fn said(sets: &[TraceSetTold], rules: &HouseRules) -> Vec<Sentence> {
    let (first, last) = (&sets[0], &sets[sets.len() - 1]);
    last.means
        .iter()
        .map(|mean| {
            let now = mean.when.value;
            let then = first.means.iter().find(|of| of.channel == mean.channel);
            let then = then.filter(|_| sets.len() > 1).map(|of| of.when);
            let name = name_of(mean.channel);
            let peaks = match mean.channel {
                TraceChannel::Both => "peak",
                _ => "peaks",
            };
            let said = match then {
                Some(then) if apart(then, mean.when) => {
                    let word = if now > then.value { "earlier" } else { "later" };
                    Sentence::of(format!("{name} {peaks} "))
                        .apart_in_full(now, then.value, Dimension::Moment)
                        .words(format!(" {word}: now "))
                }
                Some(_) => Sentence::of(format!("{name} {peaks} as before, ")),
                None => Sentence::of(format!("{name} {peaks} ")),
            };
            let side = if now < 0.0 {
                " after impact"
            } else {
                " before impact"
            };
            let said = said.figure(now.abs(), Dimension::Moment).words(side);
            let said = said.words(among(&last.checkpoints, now));
            said.words(match mean.channel {
                TraceChannel::Torque => ".",
                _ if now < 0.0 => ", too late to help.",
                _ if now < rules.peak_early => ", hardly early enough to help.",
                _ => ", where it can still help.",
            })
        })
        .collect()
}

fn with_impact(set: &TraceSet) -> bool {
    set.traces
        .iter()
        .any(|trace| trace.marks.impact_s.is_some())
}

/// Half the interval of a change up to which it is known well enough to have stayed, s.
const WELL_KNOWN_S: f64 = 0.04;

/// When vertical peaks came at an earlier session's end and when this one began.
fn stayed(earlier: &EarlierTraces, first: Option<&TraceSet>, rules: &HouseRules) -> Vec<Sentence> {
    let last = earlier.sets.iter().rfind(|set| with_impact(set));
    let (Some(then), Some(now)) = (last, first) else {
        return Vec::new();
    };
    let when = |set: &TraceSet, channel: TraceChannel| {
        let peaks = set.traces.iter().filter_map(|trace| trace.peak(channel));
        let when: Vec<f64> = peaks.map(|[_, when]| when).collect();
        summarise(&when, rules.interval_level)?.interval
    };
    let [on, today] = earlier.on;
    let vertical = [TraceChannel::Lead, TraceChannel::Both];
    let told = vertical.into_iter().filter_map(|channel| {
        let (then, now) = (when(then, channel)?, when(now, channel)?);
        let half = then.half_width().hypot(now.half_width());
        let what = if apart(then, now) {
            match now.value > then.value {
                true => "it comes earlier still",
                false => "it went back",
            }
        } else if half < WELL_KNOWN_S {
            "it stayed"
        } else {
            "too few to tell whether it stayed"
        };
        let side = |at: f64| if at < 0.0 { " after" } else { " before" };
        Some(
            Sentence::of(format!("{} peaked ", name_of(channel)))
                .figure(then.value.abs(), Dimension::Moment)
                .words(format!("{} impact at the end of ", side(then.value)))
                .day(on, today)
                .words(", and ")
                .figure(now.value.abs(), Dimension::Moment)
                .words(format!(
                    "{} it when this session began: {what} (n {} and {}).",
                    side(now.value),
                    then.n,
                    now.n
                )),
        )
    });
    told.collect()
}

/// Whether two times differ by more than their intervals allow.
fn apart(a: Estimate, b: Estimate) -> bool {
    let half = a.half_width().hypot(b.half_width());
    (a.value - b.value).abs() > half && a.n > 1 && b.n > 1
}

fn doubts(sets: &[TraceSet]) -> Vec<Sentence> {
    let all = || sets.iter().flat_map(|set| &set.traces);
    let mut said = Vec::new();
    let unmarked = all().filter(|trace| trace.marks.impact_s.is_none()).count();
    if unmarked > 0 {
        said.push(Sentence::of(format!(
            "{unmarked} without a mark of impact: they cannot be laid beside the others and are left out."
        )));
    }
    for channel in TraceChannel::all() {
        let limit = all()
            .filter(|trace| trace.saturated().contains(&channel))
            .count();
        if limit > 0 {
            said.push(Sentence::of(format!(
                "{}: {limit} stood at the plate’s limit, so that peaks are at least as high as shown.",
                name_of(channel)
            )));
        }
    }
    said
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::shots::trace::Marks;
    use crate::vocabulary::units::Units;
    use rand::SeedableRng;
    use rand_distr::{Distribution, StandardNormal};
    use rand_pcg::Pcg64;

    fn impact(at: f64) -> Marks {
        Marks {
            impact_s: Some(at),
            ..Marks::default()
        }
    }

    fn traces(n: usize, peak_before: f64, seed: u64) -> Vec<Trace> {
        let mut rng = Pcg64::seed_from_u64(seed);
        let mut around = |middle: f64, spread: f64| -> f64 {
            let z: f64 = StandardNormal.sample(&mut rng);
            middle + spread * z
        };
        (0..n)
            .map(|_| {
                let at = 1.4 - around(peak_before, 0.006);
                let high = around(60.0, 3.0);
                let values = (0..1700).map(|i| {
                    let t = f64::from(i) / 1000.0;
                    Some(90.0 + high * (-((t - at) / 0.09).powi(2)).exp())
                });
                let channels = [(TraceChannel::Both, values.collect())].into();
                Trace::taken(1000.0, impact(1.4), channels).unwrap()
            })
            .collect()
    }

    fn set(label: &str, traces: Vec<Trace>) -> TraceSet {
        TraceSet {
            label: label.to_owned(),
            traces,
        }
    }

    #[test]
    fn a_peak_that_comes_earlier_is_told_with_whether_it_can_help() {
        let sets = [
            set("Before", traces(4, -0.014, 1)),
            set("Drills", traces(3, 0.06, 2)),
            set("After", traces(4, 0.128, 3)),
        ];
        let told = force_traces(&sets, None, &HouseRules::default()).unwrap();
        assert_eq!((told.sets.len(), told.sets[1].label.as_str()), (2, "After"));
        let said = told.said[0].show(Units::MphYd);
        assert!(said.starts_with("Both feet together peak 14"), "{said}");
        assert!(said.contains(" ms earlier: now 12"), "{said}");
        assert!(
            said.ends_with("before impact, where it can still help."),
            "{said}"
        );
        let same = [sets[0].clone(), set("After", traces(4, -0.014, 4))];
        let same = force_traces(&same, None, &HouseRules::default()).unwrap();
        let said = same.said[0].show(Units::MphYd);
        assert!(
            said.starts_with("Both feet together peak as before, 1"),
            "{said}"
        );
        let late = force_traces(&sets[..1], None, &HouseRules::default()).unwrap();
        let said = late.said[0].show(Units::MphYd);
        assert!(said.ends_with("after impact, too late to help."), "{said}");
    }

    #[test]
    fn what_an_earlier_session_ended_with_stayed_or_went_back() {
        let day = |text: &str| text.parse().unwrap();
        let earlier = EarlierTraces {
            on: [day("2026-03-02"), day("2026-03-28")],
            sets: vec![
                set("Before", traces(5, -0.014, 1)),
                set("After", traces(5, 0.128, 2)),
            ],
        };
        let began = |at: f64| {
            let sets = [
                set("Before", traces(5, at, 3)),
                set("After", traces(5, 0.2, 4)),
            ];
            let told = force_traces(&sets, Some(&earlier), &HouseRules::default()).unwrap();
            told.stayed[0].show(Units::MphYd)
        };
        let said = began(0.126);
        assert!(
            said.contains("ms before impact at the end of 2 March, and 12"),
            "{said}"
        );
        assert!(
            said.ends_with("when this session began: it stayed (n 5 and 5)."),
            "{said}"
        );
        assert!(began(0.02).contains("it went back"), "{}", began(0.02));
        assert!(began(0.19).contains("earlier still"));
    }

    #[test]
    fn a_peak_is_told_among_the_checkpoints_that_are_known() {
        let marked = traces(4, 0.128, 3).into_iter().map(|trace| {
            let checkpoints = [
                (Checkpoint::ShaftLevel, 1.4 - 0.16),
                (Checkpoint::ShaftUpright, 1.4 - 0.06),
            ];
            let marks = Marks {
                checkpoints: checkpoints.into(),
                ..trace.marks.clone()
            };
            trace.marked(marks).unwrap()
        });
        let told = force_traces(
            &[set("After", marked.collect())],
            None,
            &HouseRules::default(),
        )
        .unwrap();
        let said = told.said[0].show(Units::MphYd);
        assert!(
            said.contains("before impact, between shaft level and shaft upright, where it can"),
            "{said}"
        );
        assert_eq!(told.sets[0].checkpoints[0].n, 4);
    }

    #[test]
    fn the_picture_goes_from_the_first_time_that_all_have_to_the_last() {
        // The trace ends with its last sample, 299 ms after impact.
        let told = force_traces(
            &[set("Before", traces(3, 0.1, 4))],
            None,
            &HouseRules::default(),
        );
        let told = told.unwrap();
        assert!((told.before_s[0] - 1.4).abs() < 1e-9);
        let last = told.before_s[told.before_s.len() - 1];
        assert!((-0.3..=-0.29).contains(&last), "{last}");
        assert_eq!(told.sets[0].means[0].line.len(), told.before_s.len());
    }

    #[test]
    fn times_are_covered_as_often_as_they_say() {
        let (mut held, sims) = (0, 200);
        for seed in 0..sims {
            let n = 3 + seed as usize % 6;
            let told = force_traces(
                &[set("Before", traces(n, 0.1, 50 + seed))],
                None,
                &HouseRules::default(),
            );
            let when = told.unwrap().sets[0].means[0].when;
            held += usize::from(when.low <= 0.1 && 0.1 <= when.high);
        }
        let held = held as f64 / sims as f64;
        println!("held {held:.3}");
        assert!((0.84..0.96).contains(&held), "{held}");
    }

    #[test]
    fn a_trace_without_impact_is_left_out_and_said() {
        let mut odd = traces(3, 0.1, 9);
        odd[0].marks.impact_s = None;
        let told = force_traces(&[set("Before", odd)], None, &HouseRules::default()).unwrap();
        assert_eq!(told.sets[0].n, 2);
        assert!(
            told.doubts[0]
                .show(Units::MphYd)
                .starts_with("1 without a mark")
        );
        let none = traces(1, 0.1, 9).into_iter().map(|t| Trace {
            marks: Marks::default(),
            ..t
        });
        assert_eq!(
            force_traces(
                &[set("Before", none.collect())],
                None,
                &HouseRules::default()
            ),
            None
        );
    }
}
