//! Ages that are held against each other.

/// Ages that are held against each other: narrow where players grow and where they age.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct AgeBand {
    /// The youngest.
    pub from: i32,
    /// The oldest; none where there is no end.
    pub to: Option<i32>,
}

/// The first age of each band.
const FROM: [i32; 7] = [0, 10, 13, 16, 19, 50, 65];

impl AgeBand {
    /// The band of an age in whole years.
    ///
    /// ```
    /// use tally_core::record::peers::AgeBand;
    /// assert_eq!(AgeBand::of(14), AgeBand { from: 13, to: Some(15) });
    /// assert_eq!(AgeBand::of(70), AgeBand { from: 65, to: None });
    /// ```
    pub fn of(age: i32) -> AgeBand {
        let place = FROM.iter().rposition(|from| age >= *from).unwrap_or(0);
        AgeBand {
            from: FROM[place],
            to: FROM.get(place + 1).map(|next| next - 1),
        }
    }

    /// In words.
    pub fn in_words(self) -> String {
        match self.to {
            Some(to) if self.from == 0 => format!("up to {to}"),
            Some(to) => format!("of {} to {to}", self.from),
            None => format!("of {} and over", self.from),
        }
    }
}
