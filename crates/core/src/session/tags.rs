//! Where a shot belongs by what its device tells: what was swung, with which club, in which
//! block.

use crate::physics::club::Club;
use crate::session::label::asks_full_effort;
use crate::session::plan::PlannedBlock;
use crate::shots::swung::Swung;

/// What a device tells of where a shot belongs; nothing of it is needed.
#[derive(Debug, Clone, Default, PartialEq, Eq)]
pub struct Tags {
    /// What was swung without a ball.
    pub swung: Option<Swung>,
    /// The club that a ball was hit with.
    pub club: Option<Club>,
    /// What the block is called.
    pub block: Option<String>,
}

impl Tags {
    /// Of a swing without a ball.
    pub fn swung(swung: Swung) -> Tags {
        Tags {
            swung: Some(swung),
            ..Tags::default()
        }
    }

    /// Whether a shot that is told like this belongs to a block of a session with this club.
    ///
    /// ```
    /// use tally_core::physics::club::Club;
    /// use tally_core::session::plan::PlannedBlock;
    /// use tally_core::session::tags::Tags;
    /// let stock = PlannedBlock::new("Stock", 10);
    /// let told = |club, block: Option<&str>| Tags {
    ///     club,
    ///     block: block.map(str::to_owned),
    ///     ..Tags::default()
    /// };
    /// assert!(told(Some(Club::Driver), Some("stock ")).fit(&stock, Club::Driver));
    /// assert!(!told(Some(Club::WedgeLob), None).fit(&stock, Club::Driver));
    /// assert!(!told(None, Some("All-out")).fit(&stock, Club::Driver));
    /// ```
    pub fn fit(&self, plan: &PlannedBlock, club: Club) -> bool {
        let same = |a: &str, b: &str| a.trim().to_lowercase() == b.trim().to_lowercase();
        let of_it = |told: &Swung| {
            plan.swung
                .as_ref()
                .is_some_and(|asked| told.belongs_to(asked))
        };
        let hit_with = |told: Club| plan.swung.is_none() && plan.club.unwrap_or(club) == told;
        self.swung.as_ref().is_none_or(of_it)
            && self.club.is_none_or(hit_with)
            && self
                .block
                .as_ref()
                .is_none_or(|told| same(told, &plan.label))
    }

    /// The block of their own that such shots get where none is theirs: for what was swung and
    /// for a block that is named. A club alone makes none: devices often have another one set
    /// than is hit with.
    pub fn own_block(&self) -> Option<PlannedBlock> {
        let label = match (&self.block, &self.swung) {
            (Some(block), _) => block.clone(),
            (None, Some(swung)) => swung.words(),
            (None, None) => return None,
        };
        Some(PlannedBlock {
            swung: self.swung.clone(),
            club: self.club.filter(|_| self.swung.is_none()),
            full_effort: self.swung.is_none() && asks_full_effort(&label),
            ..PlannedBlock::new(label, 0)
        })
    }
}
