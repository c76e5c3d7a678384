//! What guards the server holds to by itself.

mod address {
    use std::net::IpAddr;
    use tally_server::guard::address::{counted, forwarded};

    fn ip(text: &str) -> IpAddr {
        text.parse().unwrap()
    }

    #[test]
    fn the_last_address_that_is_no_proxy_s_counts_however_it_is_written() {
        let from = |told: &[&str]| {
            let proxies = [ip("10.0.0.2")];
            forwarded(told.iter().copied(), ip("10.0.0.1"), &proxies)
        };
        assert_eq!(from(&[]), ip("10.0.0.1"));
        assert_eq!(from(&["203.0.113.7"]), ip("203.0.113.7"));
        // Made up by the visitor, then told by our proxy.
        assert_eq!(from(&["1.1.1.1, 203.0.113.7"]), ip("203.0.113.7"));
        assert_eq!(from(&["1.1.1.1", "203.0.113.7"]), ip("203.0.113.7"));
        assert_eq!(from(&["203.0.113.7", "1.1.1.1"]), ip("1.1.1.1"));
        // Two proxies of ours.
        assert_eq!(from(&["203.0.113.7, 10.0.0.2"]), ip("203.0.113.7"));
        assert_eq!(from(&["203.0.113.7:4711"]), ip("203.0.113.7"));
        assert_eq!(from(&["[2001:db8::7]:4711"]), ip("2001:db8::7"));
        assert_eq!(from(&["[2001:db8::7]"]), ip("2001:db8::7"));
        assert_eq!(from(&["::ffff:203.0.113.7"]), ip("203.0.113.7"));
        for nonsense in ["", "unknown", "203.0.113", "1.1.1.1, _hidden"] {
            assert_eq!(from(&[nonsense]), ip("10.0.0.1"), "{nonsense}");
        }
    }

    #[test]
    fn one_household_counts_as_one() {
        let (one, other) = (ip("2001:db8:1:2::7"), ip("2001:db8:1:2:ffff::9"));
        assert_eq!(counted(one), counted(other));
        assert_ne!(counted(one), counted(ip("2001:db8:1:3::7")));
        assert_ne!(counted(ip("203.0.113.7")), counted(ip("203.0.113.8")));
        assert_eq!(counted(ip("::ffff:203.0.113.7")), ip("203.0.113.7"));
    }
}

mod doors {
    use std::net::IpAddr;
    use std::time::Duration;
    use tally_server::guard::doors::{Doors, Limits, Pass};

    const HERE: IpAddr = IpAddr::V4(std::net::Ipv4Addr::LOCALHOST);

    fn limits() -> Limits {
        Limits {
            strangers: 6,
            strangers_from: Some(4),
            ..Limits::web(10)
        }
    }

    fn gone(passes: &[Pass]) -> Vec<bool> {
        passes
            .iter()
            .map(|p| p.shown_out().is_cancelled())
            .collect()
    }

    #[test]
    fn a_flood_from_one_address_drives_out_its_own_silent_strangers_only() {
        let doors = Doors::new(limits());
        let elsewhere = doors.let_in("203.0.113.7".parse().unwrap());
        let coach = doors.let_in(HERE);
        coach.known();
        let mut flood: Vec<_> = (0..50).map(|_| doors.let_in(HERE)).collect();
        assert!(!gone(&[elsewhere, coach.clone()]).contains(&true));
        assert_eq!(gone(&flood).iter().filter(|gone| !**gone).count(), 4);
        assert!(!gone(&flood[46..]).contains(&true), "the latest stay");
        assert_eq!(doors.connected(), (1, 4));
        drop(coach);
        flood.truncate(48);
        assert_eq!(doors.connected(), (0, 2));
        drop(flood);
        assert_eq!(doors.connected(), (0, 0));
    }

    #[test]
    fn who_is_being_served_goes_last() {
        let doors = Doors::new(limits());
        let served = doors.let_in(HERE);
        let busy = served.busy();
        let flood: Vec<_> = (0..9).map(|_| doors.let_in(HERE)).collect();
        assert!(!served.shown_out().is_cancelled());
        assert_eq!(gone(&flood).iter().filter(|gone| !**gone).count(), 3);
        drop(busy);
    }

    #[test]
    fn the_room_for_those_who_are_known_ends_too() {
        let doors = Doors::new(limits());
        let all: Vec<_> = (0..4u8)
            .flat_map(|n| (0..3).map(move |_| IpAddr::from([203, 0, 113, n])))
            .map(|from| {
                let pass = doors.let_in(from);
                pass.known();
                pass
            })
            .collect();
        let (known, strangers) = doors.connected();
        assert_eq!((known, known + strangers), (4, 10));
        assert_eq!(gone(&all).iter().filter(|gone| **gone).count(), 2);
    }

    #[test]
    fn a_device_that_does_not_say_who_it_is_has_ten_seconds_and_then_all_day() {
        let device = Doors::new(Limits::devices(10)).let_in(HERE);
        assert!(device.patience() <= Duration::from_secs(10));
        device.known();
        assert!(device.patience() > Duration::from_secs(11 * 3600));
    }
}

mod few {
    use std::sync::Arc;
    use tally_server::guard::few::Few;
    use uuid::Uuid;

    #[test]
    fn each_has_a_few_at_a_time() {
        let few = Arc::new(Few::new(2));
        let (one, other) = (Uuid::now_v7(), Uuid::now_v7());
        let first = few.begin(one).unwrap();
        let _second = few.begin(one).unwrap();
        assert!(few.begin(one).is_none());
        assert!(few.begin(other).is_some());
        drop(first);
        assert!(few.begin(one).is_some());
    }
}

mod looks {
    use std::sync::atomic::{AtomicUsize, Ordering};
    use std::time::Duration;
    use tally_server::guard::looks::Looks;

    #[tokio::test]
    async fn a_thousand_that_are_due_at_once_look_two_at_a_time_and_each_does() {
        let looks = Looks::every(Duration::ZERO);
        let (now, most) = (AtomicUsize::new(0), AtomicUsize::new(0));
        let looking = (0..1000).map(|_| async {
            let look = looks.due().await;
            most.fetch_max(now.fetch_add(1, Ordering::Relaxed) + 1, Ordering::Relaxed);
            tokio::task::yield_now().await;
            now.fetch_sub(1, Ordering::Relaxed);
            drop(look);
        });
        futures_util::future::join_all(looking).await;
        assert_eq!(most.into_inner(), 2);
    }
}

mod quiet {
    use rayon::prelude::*;
    use tally_server::guard::quiet::{NICE, as_quiet_as_here, quietly};

    fn niceness() -> i32 {
        rustix::process::nice(0).unwrap()
    }

    #[tokio::test]
    async fn what_is_done_quietly_gives_way_and_what_is_not_does_not() {
        let usual = niceness();
        let all_of = |numbers: std::ops::Range<i32>| -> Vec<i32> {
            numbers.into_par_iter().map(|_| niceness()).collect()
        };
        let [here, within] = quietly(async move {
            let computed = tokio::task::spawn_blocking(move || {
                let all = as_quiet_as_here(|| all_of(0..64));
                all.into_iter().min().unwrap()
            });
            [niceness(), computed.await.unwrap()]
        })
        .await;
        assert_eq!([here, within], [usual.max(NICE); 2]);
        assert_eq!(as_quiet_as_here(|| all_of(0..64)), vec![usual; 64]);
        assert_eq!(niceness(), usual);
    }

    #[tokio::test]
    async fn a_question_that_fails_quietly_fails_where_it_was_asked() {
        let asked = tokio::spawn(quietly(async { assert_eq!(1, 2, "as a fault would") }));
        assert!(asked.await.unwrap_err().is_panic());
        assert_eq!(quietly(async { 3 }).await, 3);
    }
}

mod refused {
    use tally_server::guard::refused::Refused;

    #[test]
    fn a_refusal_is_given_again_to_the_same_for_a_moment() {
        let refused = Refused::default();
        assert_eq!(refused.lately("10.0.0.1"), None);
        refused.note("10.0.0.1", 9.0);
        let left = refused.lately("10.0.0.1").unwrap();
        assert!((8.4..=9.0).contains(&left), "{left}");
        assert_eq!(refused.lately("10.0.0.2"), None);
        refused.note("10.0.0.3", 0.0);
        assert_eq!(refused.lately("10.0.0.3"), None);
    }
}

mod sampled {
    use std::time::{Duration, Instant};
    use tally_server::guard::sampled::Sampled;

    #[test]
    fn a_flood_leaves_a_few_lines_a_second_and_the_number_of_the_others() {
        let log = Sampled::new(3);
        let began = Instant::now();
        let written = |from_ms: u64, lines: u64| {
            let at = |i| began + Duration::from_millis(from_ms) + Duration::from_micros(i);
            (0..lines)
                .filter_map(|i| log.may_at(at(i)))
                .collect::<Vec<_>>()
        };
        assert_eq!(written(0, 1000), [0, 0, 0]);
        assert!(written(500, 1000).is_empty());
        assert_eq!(written(1500, 2), [1997, 0]);
    }
}

mod turns {
    use futures_util::FutureExt;
    use tally_server::guard::turns::{Full, Turns};

    #[tokio::test]
    async fn so_many_go_so_many_wait_and_the_others_are_told() {
        let turns = Turns::new(2, 1);
        let one = turns.take().await.unwrap();
        let _two = turns.take().await.unwrap();
        let mut three = Box::pin(turns.take());
        assert!((&mut three).now_or_never().is_none());
        assert_eq!(turns.take().await.map(|_| ()), Err(Full));
        drop(one);
        let _three = three.await.unwrap();
        // Who gives up waiting leaves their place to another.
        let mut four = Box::pin(turns.take());
        assert!((&mut four).now_or_never().is_none());
        drop(four);
        assert!(Box::pin(turns.take()).now_or_never().is_none());
    }
}
