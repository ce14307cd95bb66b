//! Forms by example: a cell, and what it means.

use super::Readings;
use crate::form::{Century, Conventions, Form};
use crate::lex::{Lexer, Words};
use crate::locale::Names;
use crate::stamp::Stamp;

/// A cell and what it means, written `RAW=ISO`.
///
/// ```
/// use metachron_core::form::Conventions;
/// use metachron_core::locale::Names;
/// use metachron_core::reading::Meant;
///
/// let meant: Meant = "13062020=2020-06-13".parse()?;
/// let forms = meant.forms(Names::English, Conventions::default(), &[])?;
/// assert_eq!(forms.len(), 1);
/// assert_eq!(forms[0].to_string(), "ddMMyyyy");
/// # Ok::<(), metachron_core::reading::MeantError>(())
/// ```
#[derive(Clone, Debug, PartialEq)]
pub struct Meant {
    raw: String,
    stamp: Stamp,
}

/// An example that cannot be used.
#[derive(Clone, Debug, PartialEq, Eq, thiserror::Error)]
pub enum MeantError {
    /// It is not written `RAW=ISO`.
    #[error(
        "`{0}` is no example; write the cell, `=` and what it means in ISO 8601, such as '6/5/24=2024-05-06'"
    )]
    Shape(String),
    /// What stands behind the `=` is no ISO 8601.
    #[error(
        "`{0}` is not written as ISO 8601; write it like 2024-05-06, 2024-05-06T14:30:00, 14:30:00 or PT2H"
    )]
    NotIso(String),
    /// No form reads it so.
    #[error("no form reads `{raw}` as {stamp}{readings}")]
    NoForm {
        /// The cell.
        raw: String,
        /// What it should be.
        stamp: String,
        /// What it can be read as.
        readings: String,
    },
}

/// How the meaning of an example is written.
const ISO: [&str; 13] = [
    "yyyy-MM-dd",
    "yyyy-MM-dd'T'HH:mm:ss",
    "yyyy-MM-dd'T'HH:mm",
    "yyyy-MM-dd'T'HH:mm:ss.S",
    "yyyy-MM-dd'T'HH:mm:ssXXX",
    "yyyy-MM-dd'T'HH:mm:ss.SXXX",
    "HH:mm:ss",
    "HH:mm",
    "yyyy-MM",
    "yyyy",
    "yyyy-'Q'Q",
    "YYYY-'W'ww",
    "elapsed ISO 8601",
];

impl Meant {
    /// The cell.
    pub fn raw(&self) -> &str {
        &self.raw
    }

    /// What it means.
    pub fn stamp(&self) -> Stamp {
        self.stamp
    }

    /// The forms, of those that the cell suggests and of `more`, that read it
    /// as it is meant. Two-digit years count where their century fits.
    ///
    /// # Errors
    ///
    /// Where no form does.
    pub fn forms(
        &self,
        names: Names,
        conventions: Conventions,
        more: &[Form],
    ) -> Result<Vec<Form>, MeantError> {
        let mut lexer = Lexer::new(names, Words::Keep);
        let none = |readings: &[String]| MeantError::NoForm {
            raw: self.raw.clone(),
            stamp: self.stamp.to_string(),
            readings: match readings {
                [] => "; no date or time can be read in it".to_owned(),
                some => format!("; it can be read as {}", some.join(", ")),
            },
        };
        let cell = lexer.lex(&self.raw).map_err(|_| none(&[]))?;
        let conventions = match self.stamp.date() {
            Some(date) => Conventions {
                century: Century::Window(date.year() - 50),
                ..conventions
            },
            None => conventions,
        };
        let readings = Readings::new(cell.shape(), more);
        let (_, stamps) = readings.of(&cell, conventions);
        let pairs = || readings.candidates().iter().zip(&stamps);
        let forms: Vec<Form> = pairs()
            .filter(|(_, stamp)| **stamp == Ok(self.stamp))
            .map(|(candidate, _)| candidate.form.clone())
            .collect();
        if forms.is_empty() {
            let read = pairs().filter_map(|(candidate, stamp)| {
                Some(format!("{} ({})", stamp.ok()?, candidate.form))
            });
            return Err(none(&read.collect::<Vec<_>>()));
        }
        Ok(forms)
    }
}

impl std::str::FromStr for Meant {
    type Err = MeantError;

    fn from_str(text: &str) -> Result<Meant, MeantError> {
        let (raw, iso) = text
            .rsplit_once('=')
            .ok_or_else(|| MeantError::Shape(text.to_owned()))?;
        Ok(Meant {
            raw: raw.trim().to_owned(),
            stamp: read_iso(iso.trim())?,
        })
    }
}

/// The stamp that a person wrote in ISO 8601.
///
/// # Errors
///
/// Where it is none.
///
/// ```
/// use metachron_core::reading::read_iso;
///
/// assert_eq!(read_iso("2024-03-05T14:30").unwrap().to_string(), "2024-03-05T14:30:00");
/// assert!(read_iso("5 March").is_err());
/// ```
pub fn read_iso(text: &str) -> Result<Stamp, MeantError> {
    let none = || MeantError::NotIso(text.to_owned());
    let mut lexer = Lexer::default();
    let cell = lexer.lex(text).map_err(|_| none())?;
    let stamp = ISO.iter().find_map(|form| {
        let form: Form = form.parse().ok()?;
        let reader = form.fit(&cell.shape())?;
        reader.read(&cell, Conventions::default()).ok()
    });
    stamp.ok_or_else(none)
}

#[cfg(test)]
mod tests {
    use super::*;

    fn forms(example: &str) -> Vec<String> {
        let meant: Meant = example.parse().unwrap();
        let forms = meant.forms(Names::Anywhere, Conventions::default(), &[]);
        forms.unwrap().iter().map(Form::to_string).collect()
    }

    #[test]
    fn forms_that_read_an_example() {
        for (example, found) in [
            ("6062020=2020-06-06", &["dMMyyyy", "Mddyyyy"][..]),
            ("03/04/05=2005-04-03", &["d/M/yy"]),
            ("5 mars 2024=2024-03-05", &["d MMM yyyy"]),
            ("45657=2024-12-31", &["days since 1899-12-30"]),
            ("1h 30m=PT1H30M", &["elapsed units"]),
            ("Q1 2024=2024-Q1", &["'Q'Q yyyy"]),
        ] {
            assert_eq!(forms(example), found, "{example}");
        }
    }

    #[test]
    fn examples_that_cannot_be_used() {
        for (example, message) in [
            ("6062020", "is no example"),
            ("6062020=June", "not written as ISO 8601"),
        ] {
            let error = example.parse::<Meant>().unwrap_err().to_string();
            assert!(error.contains(message), "{error}");
        }
        let meant: Meant = "13/06/2020=2020-06-14".parse().unwrap();
        let error = meant.forms(Names::English, Conventions::default(), &[]);
        let error = error.unwrap_err().to_string();
        assert!(
            error.contains("it can be read as 2020-06-13 (d/M/yyyy)"),
            "{error}"
        );
    }
}
