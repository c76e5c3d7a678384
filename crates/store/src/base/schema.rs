//! The tables, as the migrations make them.

diesel::table! {
    school (school_id) {
        school_id -> Uuid, name -> Text, created_at -> Timestamptz, demo -> Bool,
    }
}
diesel::table! {
    coach (school_id, id) {
        school_id -> Uuid, id -> Uuid, name -> Text, role -> Text,
        left_at -> Nullable<Timestamptz>,
    }
}
diesel::table! {
    credential (school_id, coach_id) {
        school_id -> Uuid, coach_id -> Uuid, sign_in_name -> Text,
        password_hash -> Nullable<Text>, code_sha256 -> Nullable<Bytea>,
        code_until -> Nullable<Timestamptz>, totp_secret -> Nullable<Bytea>,
        totp_from -> Nullable<Timestamptz>, totp_step -> Int8,
        totp_begun -> Nullable<Bytea>,
    }
}
diesel::table! {
    web_session (school_id, id) {
        school_id -> Uuid, id -> Uuid, coach_id -> Uuid, token_sha256 -> Bytea,
        opened_at -> Timestamptz, used_at -> Timestamptz,
    }
}
diesel::table! {
    known_browser (school_id, id) {
        school_id -> Uuid, id -> Uuid, coach_id -> Uuid, token_sha256 -> Bytea,
        used_at -> Timestamptz,
    }
}
diesel::table! {
    script_token (school_id, id) {
        school_id -> Uuid, id -> Uuid, coach_id -> Uuid, name -> Text, role -> Text,
        changes -> Bool, token_sha256 -> Bytea, made_at -> Timestamptz,
        used_at -> Nullable<Timestamptz>, until -> Timestamptz,
    }
}
diesel::table! {
    wrong_try (id) {
        id -> Uuid, sign_in_name -> Text, from_address -> Text, tried_at -> Timestamptz,
    }
}
diesel::table! {
    player (school_id, id) {
        school_id -> Uuid, id -> Uuid, name -> Text, born -> Nullable<Int4>,
        left_handed -> Bool, aim -> Text, created_at -> Timestamptz,
        coach_id -> Nullable<Uuid>, guardian -> Text, consent_on -> Nullable<Date>,
        height_m -> Nullable<Float8>, mass_kg -> Nullable<Float8>, level -> Nullable<Text>,
        archived_at -> Nullable<Timestamptz>, height_on -> Nullable<Date>,
        last_session_at -> Nullable<Timestamptz>,
    }
}
diesel::table! {
    player_group (school_id, id) {
        school_id -> Uuid, id -> Uuid, name -> Text, made_at -> Timestamptz,
    }
}
diesel::table! {
    player_group_member (school_id, group_id, player_id) {
        school_id -> Uuid, group_id -> Uuid, player_id -> Uuid,
    }
}
diesel::table! {
    player_link (school_id, id) {
        school_id -> Uuid, id -> Uuid, player_id -> Uuid, coach_id -> Uuid,
        token_sha256 -> Bytea, decisions -> Bool, sessions -> Bool, made_at -> Timestamptz,
        until -> Timestamptz, revoked_at -> Nullable<Timestamptz>, page_id -> Nullable<Uuid>,
    }
}
diesel::table! {
    board (school_id, session_id) {
        school_id -> Uuid, session_id -> Uuid, player_id -> Uuid, coach_id -> Uuid, id -> Uuid,
        code -> Text, units -> Text, until -> Timestamptz,
    }
}
diesel::table! {
    audit (school_id, id) {
        school_id -> Uuid, id -> Uuid, coach_id -> Uuid, at -> Timestamptz, act -> Text,
        player_id -> Nullable<Uuid>, about -> Text,
    }
}
diesel::table! {
    player_share (school_id, player_id, coach_id) {
        school_id -> Uuid, player_id -> Uuid, coach_id -> Uuid, shared_at -> Timestamptz,
    }
}
diesel::table! {
    session (school_id, id) {
        school_id -> Uuid, id -> Uuid, player_id -> Uuid, purpose -> Text, club -> Text,
        place -> Text, altitude_m -> Float8, temperature_c -> Float8, humidity_pct -> Float8,
        pressure_hpa -> Nullable<Float8>, started_at -> Timestamptz, zone -> Text,
        ended_at -> Nullable<Timestamptz>, wind_mps -> Nullable<Float8>,
        wind_from_deg -> Nullable<Float8>, surface -> Nullable<Text>, firmness -> Nullable<Float8>,
        ball -> Text, bag_club_id -> Nullable<Uuid>, import_id -> Nullable<Uuid>,
        indoors -> Nullable<Bool>, note -> Text, tags -> Jsonb, shots -> Int4,
        paired -> Bool,
    }
}
diesel::table! {
    block (school_id, id) {
        school_id -> Uuid, id -> Uuid, session_id -> Uuid, position -> Int4, label -> Text,
        plan -> Nullable<Jsonb>, begun_at -> Nullable<Timestamptz>,
    }
}
diesel::table! {
    device (school_id, id) {
        school_id -> Uuid, id -> Uuid, name -> Text, kind -> Text, seen_at -> Timestamptz,
        token_sha256 -> Nullable<Bytea>, offsets -> Jsonb, measures -> Jsonb, calculates -> Jsonb,
        session_id -> Nullable<Uuid>, connected_at -> Nullable<Timestamptz>,
        heard_at -> Nullable<Timestamptz>, clock_ahead_s -> Nullable<Float8>, practice -> Bool,
    }
}
diesel::table! {
    shot (school_id, id) {
        school_id -> Uuid, id -> Uuid, session_id -> Uuid, block_id -> Uuid, hit_at -> Timestamptz,
    }
}
diesel::table! {
    reading (school_id, id) {
        school_id -> Uuid, id -> Uuid, shot_id -> Uuid, device_id -> Uuid, run -> Text,
        sequence -> Int8, received_at -> Timestamptz, values -> Jsonb, unread -> Nullable<Jsonb>,
    }
}
diesel::table! {
    shot_mark (school_id, id) {
        school_id -> Uuid, id -> Uuid, shot_id -> Uuid, coach_id -> Nullable<Uuid>, made_at -> Timestamptz,
        kind -> Text, reason -> Nullable<Text>, note -> Text, strike -> Nullable<Int2>,
    }
}
diesel::table! {
    target_window (school_id, player_id, club) {
        school_id -> Uuid, player_id -> Uuid, club -> Text, launch_from_deg -> Float8,
        launch_to_deg -> Float8, spin_from_rpm -> Float8, spin_to_rpm -> Float8,
        saved_at -> Timestamptz,
    }
}
diesel::table! {
    plan_template (school_id, id) {
        school_id -> Uuid, id -> Uuid, name -> Text, purpose -> Text, blocks -> Jsonb,
        saved_at -> Timestamptz,
    }
}
diesel::table! {
    bag_club (school_id, id) {
        school_id -> Uuid, id -> Uuid, player_id -> Uuid, club -> Text, head -> Text,
        loft_deg -> Nullable<Float8>, length_m -> Nullable<Float8>, mass_kg -> Nullable<Float8>,
        flex -> Text, added_at -> Timestamptz, left_at -> Nullable<Timestamptz>,
    }
}
diesel::table! {
    session_act (school_id, id) {
        school_id -> Uuid, id -> Uuid, session_id -> Uuid, coach_id -> Uuid,
        made_at -> Timestamptz, act -> Jsonb,
    }
}
diesel::table! {
    session_figures (school_id, session_id) {
        school_id -> Uuid, session_id -> Uuid, changes -> Int8, mark -> Nullable<Int8>,
        figures -> Nullable<Bytea>,
    }
}
diesel::table! {
    player_standing (school_id, player_id) {
        school_id -> Uuid, player_id -> Uuid, changes -> Int8, mark -> Nullable<Int8>,
        flagged -> Bool, told -> Nullable<Jsonb>, check_ins -> Int4,
        last_check_in -> Nullable<Timestamptz>, usual -> Jsonb, heads -> Nullable<Text>,
    }
}
diesel::table! {
    shot_entry (school_id, id) {
        school_id -> Uuid, id -> Uuid, shot_id -> Uuid, coach_id -> Uuid,
        entered_at -> Timestamptz, quantity -> Text, si -> Nullable<Float8>,
    }
}
diesel::table! {
    house_rule (school_id, id) {
        school_id -> Uuid, id -> Uuid, coach_id -> Uuid, key -> Text, value -> Nullable<Jsonb>,
        changed_at -> Timestamptz,
    }
}
diesel::table! {
    import (school_id, id) {
        school_id -> Uuid, id -> Uuid, player_id -> Uuid, coach_id -> Uuid, file_name -> Text,
        bytes -> Nullable<Int8>, bytes_done -> Int8, rows_good -> Int8, rows_bad -> Int8,
        state -> Text, message -> Text, sha256 -> Nullable<Bytea>, header -> Jsonb,
        started_at -> Timestamptz, touched_at -> Timestamptz, layout -> Nullable<Jsonb>,
        remarks -> Jsonb, rows_known -> Int8,
    }
}
diesel::table! {
    import_bad_row (school_id, import_id, row) {
        school_id -> Uuid, import_id -> Uuid, row -> Int8, cells -> Jsonb, troubles -> Jsonb,
    }
}
diesel::table! {
    decision (school_id, id) {
        school_id -> Uuid, id -> Uuid, player_id -> Uuid, session_id -> Nullable<Uuid>,
        coach_id -> Uuid, words -> Text, verdict -> Text, address -> Text,
        recheck_on -> Nullable<Date>, decided_at -> Timestamptz, done_at -> Nullable<Timestamptz>,
    }
}
diesel::table! {
    comparison (school_id, player_id, key) {
        school_id -> Uuid, player_id -> Uuid, key -> Text, made_at -> Timestamptz, told -> Jsonb,
        p -> Float8, undecided -> Bool,
    }
}
diesel::table! {
    next_choice (school_id, player_id, item) {
        school_id -> Uuid, player_id -> Uuid, item -> Text, coach_id -> Uuid, pinned -> Bool,
        reason -> Text, chosen_at -> Timestamptz,
    }
}
diesel::table! {
    goal (school_id, player_id, club, quantity) {
        school_id -> Uuid, player_id -> Uuid, club -> Text, quantity -> Text, value -> Float8,
        by_day -> Nullable<Date>, set_at -> Timestamptz,
    }
}
diesel::table! {
    benchmark (school_id, id) {
        school_id -> Uuid, id -> Uuid, player_id -> Uuid, session_id -> Nullable<Uuid>,
        coach_id -> Uuid, name -> Text, club -> Text, held_on -> Date, made_at -> Timestamptz,
        setting -> Jsonb, figures -> Jsonb, dropped_at -> Nullable<Timestamptz>,
    }
}
diesel::table! {
    page (school_id, id) {
        school_id -> Uuid, id -> Uuid, player_id -> Uuid, session_id -> Nullable<Uuid>,
        coach_id -> Uuid, written_at -> Timestamptz, body -> Jsonb,
    }
}
diesel::table! {
    trace (school_id, shot_id) {
        school_id -> Uuid, shot_id -> Uuid, packed -> Bytea,
    }
}
diesel::table! {
    implement (school_id, id) {
        school_id -> Uuid, id -> Uuid, player_id -> Nullable<Uuid>, name -> Text, kind -> Text,
        mass_kg -> Nullable<Float8>, length_m -> Nullable<Float8>, added_at -> Timestamptz,
        left_at -> Nullable<Timestamptz>,
    }
}
diesel::table! {
    protocol (school_id, id) {
        school_id -> Uuid, id -> Uuid, body -> Jsonb, saved_at -> Timestamptz,
        dropped_at -> Nullable<Timestamptz>,
    }
}
diesel::table! {
    programme (school_id, id) {
        school_id -> Uuid, id -> Uuid, player_id -> Uuid, coach_id -> Uuid, body -> Jsonb,
        made_at -> Timestamptz, replaced_at -> Nullable<Timestamptz>,
    }
}
diesel::table! {
    programme_act (school_id, id) {
        school_id -> Uuid, id -> Uuid, programme_id -> Uuid, player_id -> Uuid, coach_id -> Uuid,
        made_at -> Timestamptz, act -> Jsonb,
    }
}
diesel::table! {
    run (school_id, session_id) {
        school_id -> Uuid, session_id -> Uuid, protocol_id -> Uuid, level -> Int4, lighter -> Bool,
        programme_id -> Nullable<Uuid>, place -> Nullable<Int4>,
    }
}
diesel::table! {
    calendar_feed (school_id, id) {
        school_id -> Uuid, id -> Uuid, player_id -> Uuid, coach_id -> Uuid, token_sha256 -> Bytea,
        made_at -> Timestamptz, revoked_at -> Nullable<Timestamptz>,
    }
}
diesel::allow_tables_to_appear_in_same_query!(
    school,
    coach,
    credential,
    web_session,
    known_browser,
    script_token,
    wrong_try,
    player,
    player_share,
    player_link,
    board,
    audit,
    session,
    block,
    device,
    shot,
    reading,
    shot_mark,
    target_window,
    plan_template,
    bag_club,
    session_act,
    session_figures,
    player_standing,
    shot_entry,
    house_rule,
    import,
    import_bad_row,
    decision,
    comparison,
    goal,
    next_choice,
    benchmark,
    page,
    implement,
    player_group,
    player_group_member,
    trace,
    protocol,
    programme,
    programme_act,
    run,
    calendar_feed
);
