use super::*;
use crate::record::figures::SessionFigures;
use crate::vocabulary::units::{MPH, Units};

fn peer(mph: f64, born: i32, level: PlayingLevel) -> Peer {
    Peer {
        value: mph * MPH,
        born: Some(born),
        level: Some(level),
    }
}

fn ask<'a>(
    mph: Option<f64>,
    others: &'a [Peer],
    reference: &'a [ReferenceLevel],
) -> PeersQuestion<'a> {
    let own = |mph: f64| Usual {
        club: Club::Driver,
        quantity: Quantity::ClubSpeed,
        value: mph * MPH,
        day: NaiveDate::from_ymd_opt(2026, 4, 1).unwrap(),
    };
    PeersQuestion {
        own: mph.map(own),
        club: Club::Driver,
        quantity: Quantity::ClubSpeed,
        born: Some(1990),
        level: Some(PlayingLevel::Club),
        year: 2026,
        others,
        reference,
    }
}

fn said(told: &PeersTold) -> String {
    told.sentence.show(Units::MphYd)
}

#[test]
fn a_rank_is_told_among_those_of_the_age_and_level_alone() {
    let mut others: Vec<Peer> = (0..9)
        .map(|i| peer(88.0 + f64::from(i), 1980 + i, PlayingLevel::Club))
        .collect();
    // A child, a beginner and one of whom nothing is known say nothing of this player.
    others.push(peer(60.0, 2014, PlayingLevel::Club));
    others.push(peer(61.0, 1990, PlayingLevel::Beginner));
    others.push(Peer {
        value: 20.0,
        born: None,
        level: None,
    });
    let ours = crate::record::reference_levels::ours();
    let told = peers(&ask(Some(95.5), &others, &ours));
    let rank = told.rank.unwrap();
    assert_eq!((rank.n, rank.ahead_of, rank.percentile), (10, 8, 85.0));
    assert_eq!(
        said(&told),
        "Faster than 8 of 9 other club players of 19 to 49 here; 3.0 mph over their middle. The \
         house's reference for such players is 93.8 mph."
    );
    let last = said(&peers(&ask(Some(80.0), &others, &[])));
    assert!(last.starts_with("The last of 10 club players"), "{last}");
}

#[test]
fn too_few_of_the_level_are_widened_to_the_age_and_too_few_of_that_give_no_rank() {
    let mut others: Vec<Peer> = (0..3)
        .map(|i| peer(90.0 + f64::from(i), 1985, PlayingLevel::Club))
        .collect();
    let few = peers(&ask(Some(95.0), &others, &[]));
    assert_eq!(few.rank, None);
    assert_eq!(
        said(&few),
        "No rank yet: it takes 8 players of 19 to 49 with such a figure, and there are 3 others."
    );
    others.extend((0..4).map(|i| peer(100.0 + f64::from(i), 1995, PlayingLevel::Elite)));
    let wide = peers(&ask(Some(95.0), &others, &[]));
    assert_eq!(
        (wide.rank.unwrap().n, wide.group.as_str()),
        (8, "players of 19 to 49")
    );
}

#[test]
fn what_is_not_known_is_asked() {
    let others = [];
    let mut nobody = ask(Some(95.0), &others, &[]);
    nobody.born = None;
    assert!(said(&peers(&nobody)).starts_with("Note the year of birth"));
    let none = peers(&ask(None, &others, &[]));
    assert!(
        said(&none).starts_with("No usual swings"),
        "{}",
        said(&none)
    );
}

#[test]
fn the_middle_of_the_latest_days_forgives_an_off_day() {
    let day = |n: u64, mph: f64| Occasion {
        date: NaiveDate::from_ymd_opt(2026, 3, 1).unwrap() + chrono::Days::new(n),
        figures: SessionFigures {
            series: BTreeMap::from([(
                (Series::Usual, Club::Driver, Quantity::ClubSpeed),
                vec![mph - 1.0, mph + 1.0],
            )]),
            ..SessionFigures::default()
        },
        ..Occasion::default()
    };
    let told = usual(&[day(0, 80.0), day(7, 99.0), day(14, 100.0), day(21, 70.0)]);
    assert_eq!((told.len(), told[0].value), (1, 99.0));
    assert_eq!(told[0].day, NaiveDate::from_ymd_opt(2026, 3, 22).unwrap());
}
