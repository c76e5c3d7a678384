//! What the cells of a file say: names, clubs and sides in many languages, numbers, times and
//! encodings.

use crate::shapes::{CARRY, SPEED, Wanted, held, read, right, today};
use tally_core::physics::club::Club;
use tally_core::vocabulary::quantity::Quantity as Q;
use tally_core::vocabulary::units::Unit as U;
use tally_formats::shot_table::{When, guess, look};

const SPIN: (Q, U, f64) = (Q::SpinRate, U::Rpm, 6900.0);

#[test]
fn names_of_columns_in_ten_languages_are_known() {
    let metric: &[_] = &[
        (Q::ClubSpeed, U::Kmh, 132.6),
        (Q::BallSpeed, U::Kmh, 178.0),
        (Q::AngleOfAttack, U::Deg, -4.1),
        SPIN,
        (Q::Carry, U::M, 151.1),
    ];
    for (name, header, club) in [
        (
            "German",
            "Datum;Schläger;Schlägerkopfgeschwindigkeit (km/h);Ballgeschwindigkeit (km/h);Eintreffwinkel (°);Spinrate (U/min);Carry (m)",
            "Eisen 7",
        ),
        (
            "French",
            "Date;Club;Vitesse de club (km/h);Vitesse de balle (km/h);Angle d'attaque (deg);Taux de spin (tr/min);Portée (m)",
            "Fer 7",
        ),
        (
            "Spanish",
            "Fecha;Palo;Velocidad del palo (km/h);Velocidad de bola (km/h);Ángulo de ataque;Tasa de giro (rpm);Vuelo (m)",
            "Hierro 7",
        ),
        (
            "Italian",
            "Data;Bastone;Velocità del bastone (km/h);Velocità palla (km/h);Angolo di attacco;Spin (rpm);Volo (m)",
            "Ferro 7",
        ),
        (
            "Swedish",
            "Datum;Klubba;Klubbhastighet (km/h);Bollhastighet (km/h);Attackvinkel;Spinn (rpm);Carry (m)",
            "Järn 7",
        ),
        (
            "Dutch",
            "Datum;Club;Clubsnelheid (km/h);Balsnelheid (km/h);Aanvalshoek;Spinsnelheid (rpm);Carry (m)",
            "IJzer 7",
        ),
        (
            "Portuguese",
            "Data;Taco;Velocidade do taco (km/h);Velocidade da bola (km/h);Ângulo de ataque;Taxa de spin (rpm);Distância de voo (m)",
            "Ferro 7",
        ),
        (
            "Danish",
            "Dato;Kølle;Køllehastighed (km/t);Boldhastighed (km/t);Angrebsvinkel;Spin (rpm);Flyvelængde (m)",
            "Jern 7",
        ),
        (
            "Norwegian",
            "Dato;Kølle;Køllehodehastighet (km/t);Ballhastighet (km/t);Angrepsvinkel;Spinn (rpm);Carrylengde (m)",
            "7-jern",
        ),
        (
            "Japanese",
            "日付;クラブ;ヘッドスピード(km/h);ボール初速(km/h);アタックアングル(度);スピン量(rpm);キャリー(m)",
            "7番アイアン",
        ),
        (
            "Korean",
            "날짜;클럽;클럽 스피드 (km/h);볼 스피드 (km/h);어택 앵글;스핀량 (rpm);캐리 (m)",
            "7번 아이언",
        ),
        (
            "Chinese",
            "日期;球杆;杆头速度(km/h);球速(km/h);攻角;转速(rpm);飞行距离(m)",
            "7号铁",
        ),
    ] {
        let row = |day: u32| format!("2026-04-{day};{club};132,6;178,0;-4,1;6.900;151,1\n");
        let text = format!("{header}\n{}{}{}", row(18), row(19), row(20));
        let shots = right(name, &text, metric);
        assert_eq!(shots[0].club, Some(Club::Iron7), "{name}");
    }
}

#[test]
fn letters_of_a_language_tell_left_and_right_where_the_columns_are_named_in_it() {
    for (name, header, rows, sign) in [
        (
            "French",
            "Angle de face;Carry (yd)",
            ["3,2 G", "1,1 D", "2 D"],
            -1.0,
        ),
        (
            "Spanish",
            "Ángulo de cara (°);Carry (yd)",
            ["D 3,2", "I 1,1", "D 2"],
            1.0,
        ),
        (
            "Italian",
            "Angolo faccia [deg];Carry (yd)",
            ["3,2 S", "1,1 D", "2 S"],
            -1.0,
        ),
        (
            "Swedish",
            "Bladvinkel;Carry (yd)",
            ["3,2° H", "1,1° V", "2° V"],
            1.0,
        ),
        (
            "Portuguese",
            "Ângulo da face;Carry (yd)",
            ["E 3,2", "D 1,1", "E 2"],
            -1.0,
        ),
        (
            "Italian, shortened",
            "Angolo faccia;Carry (yd)",
            ["3,2 dx", "1,1 sx", "2 dx"],
            1.0,
        ),
    ] {
        let [a, b, c] = rows;
        let text = format!("{header}\n{a};165,2\n{b};160\n{c};166\n");
        right(name, &text, &[(Q::FaceAngle, U::Deg, sign * 3.2), CARRY]);
    }
    // Of the same in English an S may be a slice, and a D a draw.
    let text = "Face angle;Carry (yd)\n3.2 S;165.2\n1.1 D;160\n2 S;166\n";
    let wanted = Wanted {
        asks: &[],
        rows: (0, 3),
        first: &[],
    };
    held("English", text.as_bytes(), &wanted);
}

#[test]
fn numbers_are_read_as_they_can_only_be_meant() {
    right(
        "grouped spin",
        "Spin (rpm),Carry (yd)\n\"6,900\",165.2\n\"5,812\",160\n\"7,001\",166\n",
        &[SPIN, CARRY],
    );
    right(
        "grouped by points",
        "Spin (rpm);Carry (yd)\n6.900;165,2\n5.812;160\n7.001;166\n",
        &[SPIN, CARRY],
    );
    right(
        "stars",
        "Spin (rpm),Carry (yd)\n6900*,165.2\n5812*,160\n7001,166\n",
        &[SPIN, CARRY],
    );
    right(
        "signs of degrees",
        "Spin axis,Carry (yd)\n-3.2°,165.2\n1.1°,160\n2°,166\n",
        &[(Q::SpinAxis, U::Deg, -3.2), CARRY],
    );
    right(
        "sides",
        "Side (L/R) yd,Carry (yd)\n3.2 L,165.2\n1.1 R,160\n2 R,166\n",
        &[(Q::Side, U::Yd, -3.2), CARRY],
    );
    right(
        "units in cells",
        "Club Speed,Carry\n82.4 mph,165.2 yd\n81 mph,160 yd\n83 mph,166 yd\n",
        &[SPEED, CARRY],
    );
    right(
        "zeros of what is missing",
        "Club Speed (mph),Carry (yd),Spin (rpm)\n82.4,165.2,0\n81,160,0\n83,166,6900\n",
        &[SPEED, CARRY],
    );
    let shots = right(
        "months in words",
        "Date,Carry (yd)\n18-Apr-26,165.2\n19-Apr-26,160\n20-Apr-26,166\n",
        &[CARRY],
    );
    assert_eq!(format!("{:?}", shots[0].when), "Day(2026-04-18)");
    let shots = right(
        "serial days",
        "Date,Carry (yd)\n46130.5,165.2\n46130.6,160\n46131,166\n",
        &[CARRY],
    );
    assert_eq!(format!("{:?}", shots[0].when), "Local(2026-04-18T12:00:00)");
    let shots = right(
        "month first, told by one row",
        "Date,Carry (yd)\n04/05/2026,165.2\n04/18/2026,160\n04/19/2026,166\n",
        &[CARRY],
    );
    assert_eq!(format!("{:?}", shots[0].when), "Day(2026-04-05)");
    let shots = right(
        "the other reading is still to come",
        "Date,Carry (yd)\n12/11/2026,165.2\n11/11/2026,160\n10/11/2026,166\n",
        &[CARRY],
    );
    assert_eq!(format!("{:?}", shots[0].when), "Day(2026-11-12)");
}

#[test]
fn what_only_sounds_like_a_value_is_left_out_and_named() {
    let text = "Club Speed (mph),Face to Path,Spin Loft,Impact Height (mm),Side Spin (rpm),Landing Speed (mph),Carry (yd),Carry Flat (yd),Carry (deg)\n\
        82.4,1.2,30,4,300,50,165.2,170,3\n81,1,31,3,200,49,160,168,3\n83,2,30,2,100,51,166,171,3\n";
    right("near names", text, &[SPEED, CARRY]);
    let looked = look(
        text.as_bytes(),
        &guess(text.as_bytes(), today()).unwrap(),
        today(),
    )
    .unwrap();
    let told = looked.remarks.join(" ");
    for name in [
        "Face to Path",
        "Spin Loft",
        "Impact Height (mm)",
        "Side Spin (rpm)",
        "Landing Speed (mph)",
        "Carry Flat (yd)",
    ] {
        assert!(told.contains(name), "{name}: {told}");
    }
    assert!(
        told.contains("deg is not what carry is measured in"),
        "{told}"
    );
}

#[test]
fn other_encodings_are_known_without_a_mark() {
    let japanese = "日付,クラブ,ヘッドスピード(m/s),キャリー(m)\n2026-04-18,7番アイアン,36.8,151\n2026-04-18,7番アイアン,36.2,149\n2026-04-18,7番アイアン,37,152\n";
    let first: &[_] = &[(Q::ClubSpeed, U::Mps, 36.8), (Q::Carry, U::M, 151.0)];
    let wanted = Wanted {
        asks: &[],
        rows: (3, 0),
        first,
    };
    let (shift_jis, _, lossy) = encoding_rs::SHIFT_JIS.encode(japanese);
    assert!(!lossy);
    held("Shift-JIS", &shift_jis, &wanted);
    let western = "Club Speed (mph),Carry (yd)\n82.4,165.2\n81,160\n83,166\n";
    let little: Vec<u8> = western.encode_utf16().flat_map(u16::to_le_bytes).collect();
    let big: Vec<u8> = western.encode_utf16().flat_map(u16::to_be_bytes).collect();
    let wanted = Wanted {
        asks: &[],
        rows: (3, 0),
        first: &[SPEED, CARRY],
    };
    held("UTF-16, little end first", &little, &wanted);
    held("UTF-16, big end first", &big, &wanted);
}

#[test]
fn a_player_called_max_and_a_note_of_an_average_strike_are_no_sums() {
    let text = "Player,Club,Carry (yd),Notes\nMax,7i,165.2,Best\nMax,7i,160,average strike\nMax,7i,166,mean hook\nAverage,,163.7,\n";
    right("a player called Max", text, &[CARRY]);
    let text = "Notes,Carry (yd),Club\nbest,165.2,7i\nAverage contact,160,7i\nmax,166,7i\nAverage,163.7,7i\n";
    right("notes first", text, &[CARRY]);
    let text = "Club,Carry (yd)\n7i,165.2\n7i,160\n7i,166\nMax,166\nMean of 3,163.7\n";
    right("sums where the club stands", text, &[CARRY]);
}

#[test]
fn a_zero_where_none_can_be_is_a_value_that_is_missing() {
    let file = "club,club speed (mph),ball speed (mph),spin rate (rpm),side (yd)\n\
        7i,0,118,0,0\n7i,88,119,6400,3\n";
    let wanted = Wanted {
        asks: &[],
        rows: (2, 0),
        first: &[(Q::BallSpeed, U::Mph, 118.0), (Q::Side, U::Yd, 0.0)],
    };
    held("zeros", file.as_bytes(), &wanted);
}

#[test]
fn a_time_with_points_beside_a_day_is_a_time() {
    let file =
        "Datum;Uhrzeit;club;carry (m)\n18.04.2026;10.05.33;7i;140\n18.04.2026;10.06.12;7i;141\n";
    let (shots, bad) = read(file.as_bytes(), guess(file.as_bytes(), today()).unwrap());
    let at = |time| When::Local(format!("2026-04-18T{time}").parse().unwrap());
    let when: Vec<_> = shots.iter().map(|shot| shot.when).collect();
    assert_eq!((when, bad), (vec![at("10:05:33"), at("10:06:12")], 0));
}

#[test]
fn names_written_as_one_word_with_their_unit_are_known_and_counted_pages_are_no_shots() {
    let file = "CLUBNAME,CLUBHEADSPEEDMPH,CARRYYDS\n7i,82.4,165.2\nPage 1 of 2,,\n\
        CLUBNAME,CLUBHEADSPEEDMPH,CARRYYDS\n7i,81,160\n7i,83,166\nPage 2 of 2,,\n";
    right("one word", file, &[SPEED, CARRY]);
}
