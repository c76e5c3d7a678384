//! Sentences by their shapes, each with one sample, in one list that is read before it is changed:
//! what a coach would not say to a player does not stand there.

use serde::Serialize;
use serde_json::Value;
use std::collections::{BTreeMap, BTreeSet};
use std::fmt::Write;
use tally_core::vocabulary::sentence::Sentence;
use tally_core::vocabulary::units::Units;

/// Shapes by the part of the product that says them: numbers do not make another shape.
#[derive(Default)]
pub struct Said(BTreeMap<&'static str, BTreeMap<String, String>>);

impl Said {
    /// Takes every sentence of an answer.
    pub fn take(&mut self, part: &'static str, answer: &impl Serialize) {
        self.walk(part, &serde_json::to_value(answer).unwrap());
    }

    /// All of it, a line for each shape.
    pub fn list(self) -> String {
        let mut list = String::new();
        for (part, shapes) in self.0 {
            writeln!(list, "{part}").unwrap();
            let samples: BTreeSet<String> = shapes.into_values().collect();
            for sample in samples {
                writeln!(list, "  {sample}").unwrap();
            }
        }
        list
    }

    fn walk(&mut self, part: &'static str, value: &Value) {
        match value {
            Value::Array(parts) if is_sentence(parts) => {
                let sentence: Sentence = serde_json::from_value(value.clone()).unwrap();
                let text = sentence.show(Units::MphYd);
                let shapes = self.0.entry(part).or_default();
                let sample = shapes.entry(shape(&text)).or_insert_with(|| text.clone());
                // The same one, in whatever order they come.
                if text < *sample {
                    *sample = text;
                }
            }
            Value::Array(items) => items.iter().for_each(|item| self.walk(part, item)),
            Value::Object(fields) => fields.values().for_each(|field| self.walk(part, field)),
            _ => {}
        }
    }
}

fn is_sentence(parts: &[Value]) -> bool {
    !parts.is_empty()
        && parts.iter().all(|part| {
            part["kind"]
                .as_str()
                .is_some_and(|kind| ["words", "figure", "apart", "day"].contains(&kind))
        })
}

/// A text without its numbers.
fn shape(text: &str) -> String {
    let mut shape = String::new();
    let mut rest = text.chars().peekable();
    while let Some(c) = rest.next() {
        if !c.is_ascii_digit() {
            shape.push(c);
            continue;
        }
        shape.push('#');
        // A mark goes with the number while a digit follows it.
        while let Some(next) = rest.peek().copied() {
            let marks = matches!(next, '.' | ',');
            let goes_on = rest
                .clone()
                .nth(1)
                .is_some_and(|after| after.is_ascii_digit());
            if !(next.is_ascii_digit() || marks && goes_on) {
                break;
            }
            rest.next();
        }
    }
    shape
}
