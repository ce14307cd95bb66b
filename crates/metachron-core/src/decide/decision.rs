//! What was decided on one cell, and why.

use super::{KindMismatch, Verdict};
use crate::form::{Form, Hypothesis, Impossible, Order, Unwritable};
use crate::lex::NoDate;
use crate::locale::Tag;
use crate::phrase::Refusal;
use crate::stamp::Stamp;
use jiff::Timestamp;
use jiff::civil::Date;

/// What was decided on one cell.
///
/// Of a cell that waits for a person, it says why, and what it could mean: as
/// data, and in words by [`Decision::sentence`] and [`Decision::readings`].
#[derive(Clone, Debug, PartialEq)]
pub struct Decision {
    /// What became of the cell.
    pub verdict: Verdict,
    /// Its stamp, where the verdict is certain or settled.
    pub stamp: Option<Stamp>,
    /// Why it waits.
    pub reason: Reason,
    /// Of which group of rows it is, where the ruling goes by groups.
    pub group: Option<GroupReason>,
    /// What it could mean.
    pub alternatives: Vec<Alternative>,
}

impl Decision {
    /// A cell that has a stamp, or stands for nothing.
    pub fn on_known(verdict: Verdict, stamp: Option<Stamp>) -> Decision {
        Decision {
            verdict,
            stamp,
            reason: Reason::None,
            group: None,
            alternatives: Vec::new(),
        }
    }

    /// A cell that is open.
    pub fn open(reason: Reason, alternatives: Vec<Alternative>) -> Decision {
        Decision {
            reason,
            alternatives,
            ..Decision::on_known(Verdict::Open, None)
        }
    }

    /// A cell that is unreadable.
    pub fn unreadable(reason: Reason, alternatives: Vec<Alternative>) -> Decision {
        Decision {
            reason,
            alternatives,
            ..Decision::on_known(Verdict::Unreadable, None)
        }
    }

    /// Why it waits, in a word.
    pub fn code(&self) -> ReasonCode {
        self.reason.code()
    }
}

/// Why a cell waits.
#[derive(Clone, Debug, PartialEq)]
pub enum Reason {
    /// It does not wait.
    None,
    /// Several orders read it differently.
    Orders(Vec<Order>),
    /// Several forms that have no order read it differently.
    Forms(Vec<Form>),
    /// Some forms read it, and another may still have written it.
    Split {
        /// The one that may have, and why it does not read it.
        other: Option<(Form, Impossible)>,
        /// Those that read it.
        readers: Vec<Form>,
    },
    /// The century of its two-digit year is not settled.
    Century,
    /// Its year is this one, far from our time: that of another calendar,
    /// perhaps.
    FarYear(i16),
    /// It counts to a year far from our time: a number that counts no time,
    /// perhaps.
    FarCount(Form),
    /// It means something that needs a rule of its own.
    Rule(Impossible),
    /// Languages do not agree about a name in it.
    NameDiffers {
        /// The name.
        word: String,
        /// The months that it may be, from 1, each with the languages.
        meant: Vec<(u8, Vec<Tag>)>,
    },
    /// It is of another kind than its column.
    Kind(KindMismatch),
    /// It cannot be written as that is ruled.
    Unwritable(Unwritable),
    /// No form of any kind could have written it.
    Formless,
    /// It holds this besides a date.
    Leftover(String),
    /// It was not cut into tokens.
    NoDate(NoDate),
    /// The ruling has no form that writes such cells.
    NoForm,
    /// A form of the ruling writes such cells, but this one is impossible.
    Impossible {
        /// Why.
        why: Impossible,
        /// The form.
        form: Form,
    },
    /// Only forms that the ruling excludes read it.
    Contradicts {
        /// These forms.
        readers: Vec<Form>,
        /// The form that the ruling has for such cells, if it has one, and why
        /// that does not read it.
        ruled: Option<(Form, Option<Impossible>)>,
    },
    /// Clocks in this zone went forward over it.
    InGap(String),
    /// Clocks in this zone went back over it.
    InFold(String),
    /// This column would say its zone, and is empty in its row.
    ZoneEmpty(String),
    /// This column would say its zone, and says what is none.
    ZoneUnknown {
        /// The column.
        column: String,
        /// Why it is none.
        why: String,
    },
    /// It lies beyond the instants that can be computed with.
    BeyondInstants,
    /// It is derived, and its phrase gives no value.
    NoValue(Box<Refusal>),
}

/// Of which group a row is, where the ruling goes by groups.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct GroupReason {
    /// The columns that make the groups.
    pub columns: Vec<String>,
    /// What they say in the row, and the order that the ruling has for that;
    /// none, where they are empty.
    pub key: Option<(String, Option<Order>)>,
}

/// What a cell could mean.
#[derive(Clone, Debug, PartialEq)]
pub enum Alternative {
    /// This, as the form reads it.
    AsForm(Stamp, Form),
    /// The same, with two-digit years in the window from this year on.
    InWindow(Stamp, Form, i16),
    /// This, in the order.
    AsHypothesis(Stamp, Hypothesis),
    /// This.
    Stamp(Stamp),
    /// The second before a leap second.
    SecondBefore(Stamp),
    /// The second after it.
    SecondAfter(Stamp),
    /// The earlier of two instants.
    Earlier(Timestamp),
    /// The later of them.
    Later(Timestamp),
    /// The last day of the month that has no such day.
    LastOfMonth(Date),
}

impl Alternative {
    /// The stamp that it would be.
    pub fn stamp(&self) -> Stamp {
        match *self {
            Alternative::AsForm(stamp, _)
            | Alternative::InWindow(stamp, ..)
            | Alternative::AsHypothesis(stamp, _)
            | Alternative::Stamp(stamp)
            | Alternative::SecondBefore(stamp)
            | Alternative::SecondAfter(stamp) => stamp,
            Alternative::Earlier(at) | Alternative::Later(at) => Stamp::Instant(at),
            Alternative::LastOfMonth(day) => Stamp::Date(day),
        }
    }

    /// The two instants that a local time in a gap or a fold may be.
    pub(crate) fn both([earlier, later]: [Timestamp; 2]) -> Vec<Alternative> {
        vec![Alternative::Earlier(earlier), Alternative::Later(later)]
    }
}

/// Why a cell waits, in a word: what scripts go by.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, PartialOrd, Ord, Hash)]
pub enum ReasonCode {
    /// It does not wait.
    #[default]
    None,
    /// Several orders read it differently.
    Order,
    /// The century of its two-digit year is not settled.
    Century,
    /// Its year may be one of another calendar.
    Calendar,
    /// It means something that needs a rule of its own.
    Rule,
    /// Clocks in its zone went forward over it.
    InGap,
    /// It was twice in its zone.
    InOverlap,
    /// Its second is a leap second.
    LeapSecond,
    /// Its row does not say its zone.
    NoZone,
    /// It is of another kind than its column, or cannot be written as that is
    /// ruled.
    Kind,
    /// It is written in a way that the ruling does not know.
    NoForm,
    /// A form of the ruling writes such cells, but this one is impossible.
    Impossible,
    /// Only an order that the ruling excludes reads it.
    Contradicts,
    /// It is derived, and its phrase gives no value.
    NoValue,
}

impl ReasonCode {
    /// The code as scripts read it.
    pub fn name(self) -> &'static str {
        match self {
            ReasonCode::None => "none",
            ReasonCode::Order => "order",
            ReasonCode::Century => "century",
            ReasonCode::Calendar => "calendar",
            ReasonCode::Rule => "rule",
            ReasonCode::InGap => "in-gap",
            ReasonCode::InOverlap => "in-overlap",
            ReasonCode::LeapSecond => "leap-second",
            ReasonCode::NoZone => "no-zone",
            ReasonCode::Kind => "kind",
            ReasonCode::NoForm => "no-form",
            ReasonCode::Impossible => "impossible",
            ReasonCode::Contradicts => "contradicts",
            ReasonCode::NoValue => "no-value",
        }
    }
}

impl Reason {
    /// The reason in a word.
    pub fn code(&self) -> ReasonCode {
        match self {
            Reason::None => ReasonCode::None,
            Reason::Orders(_) | Reason::Forms(_) | Reason::Split { .. } => ReasonCode::Order,
            Reason::Century => ReasonCode::Century,
            Reason::FarYear(_) => ReasonCode::Calendar,
            Reason::FarCount(_) => ReasonCode::Impossible,
            Reason::Rule(Impossible::LeapSecond) => ReasonCode::LeapSecond,
            Reason::Rule(Impossible::NeverThere) | Reason::InGap(_) => ReasonCode::InGap,
            Reason::Rule(Impossible::TwiceThere) | Reason::InFold(_) => ReasonCode::InOverlap,
            Reason::Rule(_) | Reason::NameDiffers { .. } => ReasonCode::Rule,
            Reason::Kind(_) | Reason::Unwritable(_) => ReasonCode::Kind,
            Reason::Formless | Reason::Leftover(_) | Reason::NoDate(_) | Reason::NoForm => {
                ReasonCode::NoForm
            }
            // Its form is none that the ruling names.
            Reason::Contradicts { ruled: None, .. } => ReasonCode::NoForm,
            Reason::Contradicts { .. } => ReasonCode::Contradicts,
            Reason::Impossible { .. } | Reason::BeyondInstants => ReasonCode::Impossible,
            Reason::ZoneEmpty(_) | Reason::ZoneUnknown { .. } => ReasonCode::NoZone,
            Reason::NoValue(_) => ReasonCode::NoValue,
        }
    }
}
