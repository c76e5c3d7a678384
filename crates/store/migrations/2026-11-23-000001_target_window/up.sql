-- A player's own launch and spin to aim for, one with each club.
CREATE TABLE target_window (
    school_id       uuid NOT NULL,
    player_id       uuid NOT NULL,
    club            text NOT NULL,
    launch_from_deg double precision NOT NULL,
    launch_to_deg   double precision NOT NULL CHECK (launch_to_deg > launch_from_deg),
    spin_from_rpm   double precision NOT NULL,
    spin_to_rpm     double precision NOT NULL CHECK (spin_to_rpm > spin_from_rpm),
    saved_at        timestamptz NOT NULL DEFAULT now(),
    PRIMARY KEY (school_id, player_id, club),
    FOREIGN KEY (school_id, player_id) REFERENCES player (school_id, id)
);
