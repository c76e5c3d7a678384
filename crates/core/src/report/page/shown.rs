//! A page as it is read: text and pictures in the reader's units.

use super::{MOST_SEEN, Page, PageLine, PagePart, Picture};
use crate::vocabulary::units::{Unit, Units};
use chrono::NaiveDate;
use serde::Serialize;
use utoipa::ToSchema;

/// Lines of another part than what was seen that are shown; of the rest it is said how many
/// they are.
const MOST_SHOWN: usize = 8;

impl PagePart {
    fn heading(self) -> &'static str {
        match self {
            PagePart::Seen => "What we saw",
            PagePart::Means => "What it means",
            PagePart::Until => "Until next time",
            PagePart::Next => "Next",
        }
    }

    fn most(self) -> usize {
        match self {
            PagePart::Seen => MOST_SEEN,
            _ => MOST_SHOWN,
        }
    }
}

impl Page {
    /// The page as it is read.
    pub fn shown(&self) -> ShownPage {
        let parts = <PagePart as strum::VariantArray>::VARIANTS.iter();
        let parts = parts.filter_map(|part| {
            let lines: Vec<&PageLine> = self.lines.iter().filter(|l| l.part == *part).collect();
            let shown = lines.iter().take(part.most());
            (!lines.is_empty()).then(|| ShownPart {
                part: *part,
                heading: part.heading(),
                lines: shown.map(|line| line.shown(self.units)).collect(),
                more: lines.len().saturating_sub(part.most()),
            })
        });
        ShownPage {
            title: self.title.clone(),
            called: self.called.clone(),
            days: self.days,
            parts: parts.collect(),
        }
    }
}

impl PageLine {
    fn shown(&self, units: Units) -> ShownLine {
        let computed = self.computed.as_ref().map(|said| said.show(units));
        ShownLine {
            text: self.said.clone().or(computed).unwrap_or_default(),
            on: self.on,
            picture: self
                .picture
                .as_ref()
                .and_then(|picture| picture.shown(units)),
        }
    }
}

impl Picture {
    /// The picture in units; nothing without a value.
    fn shown(&self, units: Units) -> Option<ShownPicture> {
        let dimension = self.quantity.dimension();
        let unit = dimension.shown(units);
        let rows: Vec<ShownRow> = self
            .rows
            .iter()
            .filter(|row| !row.values.is_empty())
            .map(|row| {
                let mean = row.values.iter().sum::<f64>() / row.values.len() as f64;
                ShownRow {
                    label: row.label.clone(),
                    values: row.values.iter().map(|v| unit.from_internal(*v)).collect(),
                    mean: unit.from_internal(mean),
                    mean_said: dimension.show_bare(mean, units),
                }
            })
            .collect();
        let all = rows.iter().flat_map(|row| row.values.iter().copied());
        let low = all.clone().reduce(f64::min)?;
        let high = all.reduce(f64::max)?;
        let named = self.quantity.label();
        Some(ShownPicture {
            label: match unit {
                Unit::One => named.to_owned(),
                unit => format!("{named}, {}", unit.symbol()),
            },
            ends: [low, high],
            ends_said: [low, high].map(|end| dimension.show_bare(unit.to_internal(end), units)),
            rows,
        })
    }
}

/// A page as it is read: text in the reader's units.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct ShownPage {
    /// What stands above it.
    pub title: String,
    /// How the player is called.
    pub called: String,
    /// The first day and the last that it is about.
    #[schema(value_type = Vec<NaiveDate>)]
    pub days: [NaiveDate; 2],
    /// Its parts that say something.
    pub parts: Vec<ShownPart>,
}

/// A part of a page.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct ShownPart {
    /// Which.
    pub part: PagePart,
    /// What stands above it.
    pub heading: &'static str,
    /// Its lines.
    pub lines: Vec<ShownLine>,
    /// How many more there are.
    pub more: usize,
}

/// A line of it.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct ShownLine {
    /// What it says.
    pub text: String,
    /// The day it is about.
    pub on: Option<NaiveDate>,
    /// Its picture.
    pub picture: Option<ShownPicture>,
}

/// Shots as they are drawn, in shown units.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct ShownPicture {
    /// Of what, in which unit: "Club speed, mph".
    pub label: String,
    /// Where its scale begins and ends.
    #[schema(value_type = Vec<f64>)]
    pub ends: [f64; 2],
    /// The same in words.
    #[schema(value_type = Vec<String>)]
    pub ends_said: [String; 2],
    /// Set by set.
    pub rows: Vec<ShownRow>,
}

/// The shots of one set.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct ShownRow {
    /// What it is called.
    pub label: String,
    /// Where its shots lie.
    pub values: Vec<f64>,
    /// Where their mean lies.
    pub mean: f64,
    /// The mean in words.
    pub mean_said: String,
}
