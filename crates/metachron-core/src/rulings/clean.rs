//! How a clean column is written.
//!
//! ```toml
//! write = { name = "due_on", pattern = "d MMMM yyyy", locale = "de" }
//! write = { unit = "h" }
//! ```

use crate::form::{CannotWrite, Form, Unwritable, Writer};
use crate::locale::{Tag, usual_pattern};
use crate::stamp::{Kind, Stamp};
use serde::{Deserialize, Serialize};

/// How a clean column is written: as ISO 8601 text under its own name, unless
/// something else is ruled.
#[derive(Clone, Debug, Default, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields, rename_all = "kebab-case")]
pub struct WriteRuling {
    /// A new name for the column.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub name: Option<String>,
    /// The form that stamps are written in, instead of ISO 8601.
    #[serde(
        default,
        skip_serializing_if = "Option::is_none",
        with = "super::form::one"
    )]
    pub pattern: Option<Form>,
    /// The locale whose names and digits the result has. Without a pattern,
    /// dates and times are written as is usual there.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub locale: Option<Tag>,
    /// The unit that lengths of time are counted in, as decimal numbers.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub unit: Option<LengthUnit>,
}

/// A unit that lengths of time are counted in, by its symbol (ISO 80000-3).
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
pub enum LengthUnit {
    /// Days of 24 hours.
    #[serde(rename = "d")]
    Day,
    /// Hours.
    #[serde(rename = "h")]
    Hour,
    /// Minutes.
    #[serde(rename = "min")]
    Minute,
    /// Seconds.
    #[serde(rename = "s")]
    Second,
    /// Thousandths of a second.
    #[serde(rename = "ms")]
    Millisecond,
}

/// A ruling on the result that cannot be followed.
#[derive(Clone, Debug, PartialEq, Eq, thiserror::Error)]
pub enum WriteError {
    /// The form cannot write the column's kind.
    #[error("write.pattern: {0}")]
    Form(#[from] CannotWrite),
    /// A unit for what is no length of time.
    #[error("write.unit counts lengths of time, and the column's kind is {0}")]
    NoLength(Kind),
    /// A unit and a pattern.
    #[error("write.unit and write.pattern contradict each other; give one of them")]
    UnitAndPattern,
}

/// How stamps of one kind are written: a [`WriteRuling`] made ready.
#[derive(Clone, Debug, Default)]
pub enum Clean {
    /// As ISO 8601 text.
    #[default]
    Iso,
    /// As a form writes them.
    Form(Box<Writer>),
    /// As a decimal number of units, so many nanoseconds each.
    Units(i128),
}

impl LengthUnit {
    fn nanoseconds(self) -> i128 {
        match self {
            LengthUnit::Day => 86_400_000_000_000,
            LengthUnit::Hour => 3_600_000_000_000,
            LengthUnit::Minute => 60_000_000_000,
            LengthUnit::Second => 1_000_000_000,
            LengthUnit::Millisecond => 1_000_000,
        }
    }
}

impl WriteRuling {
    /// Whether the column is written as ISO 8601.
    pub fn is_iso(&self) -> bool {
        self.pattern.is_none() && self.locale.is_none() && self.unit.is_none()
    }

    pub(super) fn is_empty(&self) -> bool {
        *self == WriteRuling::default()
    }

    /// The ruling, made ready for stamps of `kind`.
    ///
    /// # Errors
    ///
    /// Where such stamps cannot be written so.
    pub fn clean(&self, kind: Kind) -> Result<Clean, WriteError> {
        if let Some(unit) = self.unit {
            return match (kind, &self.pattern) {
                (_, Some(_)) => Err(WriteError::UnitAndPattern),
                (Kind::Duration, _) => Ok(Clean::Units(unit.nanoseconds())),
                (other, _) => Err(WriteError::NoLength(other)),
            };
        }
        let usual = || {
            let pattern = usual_pattern(self.locale.as_ref()?, kind)?;
            pattern.parse::<Form>().ok()
        };
        match self.pattern.clone().or_else(usual) {
            Some(form) => {
                let writer = form.writer(kind, self.locale.as_ref())?;
                Ok(Clean::Form(Box::new(writer)))
            }
            None => Ok(Clean::Iso),
        }
    }
}

impl Clean {
    /// Appends the text of `stamp` to `out`.
    ///
    /// # Errors
    ///
    /// Where that would lose a part of it; `out` is then as it was.
    pub fn write(&self, stamp: Stamp, out: &mut Vec<u8>) -> Result<(), Unwritable> {
        match (self, stamp) {
            (Clean::Form(writer), _) => writer.write(stamp, out),
            (Clean::Units(unit), Stamp::Duration(length)) => {
                if length.months() != 0 {
                    return Err(Unwritable::Months(length));
                }
                let number = length.in_units(*unit).ok_or(Unwritable::NoEnd(length))?;
                out.extend_from_slice(number.as_bytes());
                Ok(())
            }
            _ => {
                stamp.write_iso(out);
                Ok(())
            }
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::stamp::Duration;
    use jiff::civil::{date, datetime};

    #[test]
    fn results_as_they_are_ruled() {
        let hours = |quarters: i128| Stamp::Duration(Duration::new(0, quarters * 900_000_000_000));
        let day = Stamp::Date(date(2024, 3, 5));
        let at = Stamp::DateTime(datetime(2024, 3, 5, 14, 30, 0, 0));
        for (ruling, stamp, text) in [
            ("", day, "2024-03-05"),
            ("pattern = \"dd/MM/yyyy\"", day, "05/03/2024"),
            ("locale = \"de\"", day, "05.03.2024"),
            ("locale = \"de\"", at, "05.03.2024, 14:30:00"),
            ("locale = \"en-GB\"", Stamp::Month(2024, 3), "2024-03"),
            (
                "pattern = \"MMMM yyyy\"\nlocale = \"fr\"",
                Stamp::Month(2024, 3),
                "mars 2024",
            ),
            ("unit = \"h\"", hours(7), "1.75"),
            ("unit = \"min\"", hours(-1), "-15"),
            (
                "unit = \"d\"",
                hours(1),
                "PT15M is no exact decimal number of units",
            ),
            (
                "unit = \"h\"",
                Stamp::Duration(Duration::new(1, 0)),
                "P1M has months, which have no fixed length",
            ),
            (
                "unit = \"h\"",
                day,
                "write.unit counts lengths of time, and the column's kind is date",
            ),
            (
                "unit = \"h\"\npattern = \"elapsed H:mm\"",
                hours(1),
                "write.unit and write.pattern contradict each other; give one of them",
            ),
        ] {
            let ruling: WriteRuling = toml::from_str(ruling).unwrap();
            let mut out = Vec::new();
            let written = match ruling.clean(stamp.kind()) {
                Ok(clean) => clean.write(stamp, &mut out).map_err(|why| why.to_string()),
                Err(why) => Err(why.to_string()),
            };
            let written = written.map(|()| String::from_utf8(out).unwrap());
            assert_eq!(written.unwrap_or_else(|why| why), text, "{ruling:?}");
        }
    }
}
