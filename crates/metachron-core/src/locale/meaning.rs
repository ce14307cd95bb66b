//! What a word may mean inside a date or time.

/// The parts of a date that a word may name. A word may be several: French
/// and Spanish shorten both a month and a weekday to `mar`.
#[derive(Clone, Copy, Default, PartialEq, Eq, PartialOrd, Ord, Hash)]
pub struct Roles(u8);

impl Roles {
    /// A month's name.
    pub const MONTH: Roles = Roles(1);
    /// A weekday's name.
    pub const WEEKDAY: Roles = Roles(2);
    /// A part of the day: `am`, `noon`, `in the afternoon`.
    pub const DAY_PERIOD: Roles = Roles(4);
    /// An era: `AD`, `令和`.
    pub const ERA: Roles = Roles(8);
    /// A unit of time: `hours`.
    pub const UNIT: Roles = Roles(16);
    /// The suffix of an ordinal number: `th`.
    pub const ORDINAL: Roles = Roles(32);
    /// A zone's abbreviation: `UTC`, `CET`.
    pub const ZONE: Roles = Roles(64);
    /// A roman numeral, which is a month's number as well: `IV`.
    pub const NUMERAL: Roles = Roles(128);

    const NAMES: [(Roles, &'static str); 8] = [
        (Roles::MONTH, "month"),
        (Roles::WEEKDAY, "weekday"),
        (Roles::DAY_PERIOD, "part of the day"),
        (Roles::ERA, "era"),
        (Roles::UNIT, "unit of time"),
        (Roles::ORDINAL, "ordinal suffix"),
        (Roles::ZONE, "zone"),
        (Roles::NUMERAL, "roman numeral"),
    ];

    /// Whether all of `roles` are among these.
    #[inline]
    pub fn has(self, roles: Roles) -> bool {
        self.0 & roles.0 == roles.0
    }

    /// Whether there are none.
    pub fn is_empty(self) -> bool {
        self.0 == 0
    }

    /// These and `others`.
    pub const fn and(self, others: Roles) -> Roles {
        Roles(self.0 | others.0)
    }

    pub(crate) fn bits(self) -> u8 {
        self.0
    }
}

impl std::fmt::Display for Roles {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        let names = Roles::NAMES.iter().filter(|(role, _)| self.has(*role));
        let names: Vec<&str> = names.map(|(_, name)| *name).collect();
        f.write_str(&names.join(" or "))
    }
}

impl std::fmt::Debug for Roles {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        write!(f, "{self}")
    }
}

/// How much of a month's or weekday's name is written.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Hash)]
pub enum NameWidth {
    /// `Mar`, `Tue`.
    Abbreviated,
    /// `March`, `Tuesday`.
    Wide,
    /// `May` is both.
    #[default]
    Either,
}

/// The hours of the day that a day period covers, as the day-period rules of
/// UTS #35 (part 4, §3.2) give them: from a full hour to before another.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash)]
pub struct HourSpan {
    /// The first hour, 0–24.
    pub from: u8,
    /// The hour behind the last; where it is not above `from`, the span goes
    /// over midnight. Where both are equal, the span is that very moment.
    pub before: u8,
}

/// No afternoon begins later; what does is an evening or a night.
const LATEST_AFTERNOON: u8 = 14;

impl HourSpan {
    /// Midnight to noon.
    pub const AM: HourSpan = HourSpan {
        from: 0,
        before: 12,
    };
    /// Noon to midnight.
    pub const PM: HourSpan = HourSpan {
        from: 12,
        before: 24,
    };
    /// Languages do not agree about the word.
    const DIFFERS: HourSpan = HourSpan {
        from: 31,
        before: 31,
    };

    /// The hour of the day, 0–23, that `hour` on the twelve-hour clock (0–12)
    /// is in this span; in a morning or an afternoon, any hour but the twelfth, as
    /// people write one in the morning whenever morning begins. `None` where it is
    /// in neither half of it: twelve and one at night may be of either day.
    ///
    /// ```
    /// use metachron_core::locale::HourSpan;
    ///
    /// assert_eq!(HourSpan::PM.hour(12), Some(12));
    /// assert_eq!(HourSpan::AM.hour(12), Some(0));
    /// let morning = HourSpan { from: 6, before: 12 };
    /// assert_eq!((morning.hour(8), morning.hour(1)), (Some(8), Some(1)));
    /// let evening = HourSpan { from: 20, before: 24 };
    /// assert_eq!((evening.hour(9), evening.hour(1), evening.hour(12)), (Some(21), None, None));
    /// let night = HourSpan { from: 21, before: 6 };
    /// assert_eq!((night.hour(11), night.hour(2), night.hour(8)), (Some(23), Some(2), None));
    /// ```
    #[inline]
    pub fn hour(self, hour: u8) -> Option<u8> {
        let early = hour % 12;
        let half = self
            .half()
            .filter(|_| early != 0 && self.from <= LATEST_AFTERNOON);
        let span = half.unwrap_or(self);
        match (span.holds(early), span.holds(early + 12)) {
            (true, false) => Some(early),
            (false, true) => Some(early + 12),
            _ => None,
        }
    }

    /// The half of the day that the whole span is in.
    #[inline]
    fn half(self) -> Option<HourSpan> {
        let is_in = |half: &HourSpan| self.from >= half.from && self.before <= half.before;
        let halves = [HourSpan::AM, HourSpan::PM].into_iter();
        let mut halves = halves.filter(|_| self.from < self.before);
        halves.find(is_in)
    }

    /// The wider of the two, where it holds all of the other: Chinese writes
    /// 下午 for all hours behind noon, and for those before evening. All hours of
    /// both and between where they are in one half of the day: no hour is told apart
    /// by them.
    fn or(self, other: HourSpan) -> HourSpan {
        let holds = |one: HourSpan, other: HourSpan| {
            one != HourSpan::DIFFERS && (0..24).all(|hour| one.holds(hour) || !other.holds(hour))
        };
        if holds(self, other) {
            self
        } else if holds(other, self) {
            other
        } else {
            match (self.half(), other.half()) {
                (Some(half), Some(others)) if half == others => HourSpan {
                    from: self.from.min(other.from),
                    before: self.before.max(other.before),
                },
                _ => HourSpan::DIFFERS,
            }
        }
    }

    /// Whether `hour`, 0–23, is in the span.
    #[inline]
    pub fn holds(self, hour: u8) -> bool {
        match self.from.cmp(&self.before) {
            std::cmp::Ordering::Less => (self.from..self.before).contains(&hour),
            std::cmp::Ordering::Greater => hour >= self.from || hour < self.before,
            std::cmp::Ordering::Equal => hour == self.from % 24,
        }
    }
}

/// What a word may mean inside a date or time.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Hash)]
pub struct Meaning {
    /// The parts of a date that it may name.
    pub roles: Roles,
    /// How much of the name is written.
    pub width: NameWidth,
    value: u32,
}

// The layout of `value`, from its lowest bit.
const MONTH: Bits = Bits { at: 0, len: 4 };
const WEEKDAY: Bits = Bits { at: 4, len: 4 };
const FROM: Bits = Bits { at: 8, len: 5 };
const BEFORE: Bits = Bits { at: 13, len: 5 };
const ERA: Bits = Bits { at: 18, len: 6 };
const UNIT: Bits = Bits { at: 24, len: 4 };

#[derive(Clone, Copy)]
struct Bits {
    at: u32,
    len: u32,
}

impl Bits {
    const fn mask(self) -> u32 {
        (1 << self.len) - 1
    }

    #[inline]
    const fn get(self, value: u32) -> u8 {
        (value >> self.at & self.mask()) as u8
    }

    const fn put(self, number: u8) -> u32 {
        (number as u32 & self.mask()) << self.at
    }
}

impl Meaning {
    /// A month or weekday that languages do not agree about.
    pub const DIFFERS: u8 = 15;

    /// The name of month `number`.
    pub const fn month(number: u8, width: NameWidth) -> Meaning {
        Meaning {
            roles: Roles::MONTH,
            width,
            value: MONTH.put(number),
        }
    }

    /// The roman numeral of `number`, 1–12.
    pub const fn numeral(number: u8) -> Meaning {
        Meaning {
            roles: Roles::MONTH.and(Roles::NUMERAL),
            width: NameWidth::Either,
            value: MONTH.put(number),
        }
    }

    /// The name of weekday `number`, 1 (Monday) – 7.
    pub const fn weekday(number: u8, width: NameWidth) -> Meaning {
        Meaning {
            roles: Roles::WEEKDAY,
            width,
            value: WEEKDAY.put(number),
        }
    }

    /// A part of the day.
    pub const fn day_period(span: HourSpan) -> Meaning {
        Meaning {
            roles: Roles::DAY_PERIOD,
            width: NameWidth::Either,
            value: FROM.put(span.from) | BEFORE.put(span.before),
        }
    }

    /// The era numbered `number`, 1–62.
    pub const fn era(number: u8) -> Meaning {
        Meaning {
            roles: Roles::ERA,
            width: NameWidth::Either,
            value: ERA.put(number),
        }
    }

    /// The unit numbered `number`, 0–14.
    pub const fn unit(number: u8) -> Meaning {
        Meaning {
            roles: Roles::UNIT,
            width: NameWidth::Either,
            value: UNIT.put(number),
        }
    }

    /// A word that has its role and no number.
    pub const fn plain(roles: Roles) -> Meaning {
        Meaning {
            roles,
            width: NameWidth::Either,
            value: 0,
        }
    }

    /// The numbers of all its roles, packed: what a token keeps.
    pub const fn value(self) -> u32 {
        self.value
    }

    /// A number that stands for all of it.
    pub(super) fn code(self) -> u64 {
        u64::from(self.value) << 16 | u64::from(self.roles.0) << 8 | self.width as u64
    }

    /// The meaning that a number stands for.
    ///
    /// # Panics
    ///
    /// Where it stands for none.
    pub(super) fn of_code(code: u64) -> Meaning {
        Meaning {
            roles: Roles((code >> 8) as u8),
            width: match code & 0xff {
                0 => NameWidth::Abbreviated,
                1 => NameWidth::Wide,
                2 => NameWidth::Either,
                other => unreachable!("there is no width {other}"),
            },
            value: (code >> 16) as u32,
        }
    }

    /// Both meanings at once. Where they name one part differently, that part
    /// is [`Meaning::DIFFERS`].
    pub fn or(self, other: Meaning) -> Meaning {
        let mut value = self.value | other.value;
        let both = |role| self.roles.has(role) && other.roles.has(role);
        for (role, bits) in [
            (Roles::MONTH, MONTH),
            (Roles::WEEKDAY, WEEKDAY),
            (Roles::ERA, ERA),
            (Roles::UNIT, UNIT),
        ] {
            if both(role) && bits.get(self.value) != bits.get(other.value) {
                value |= bits.put(u8::MAX);
            }
        }
        if both(Roles::DAY_PERIOD) {
            let span = span(self.value).or(span(other.value));
            value &= !(FROM.put(u8::MAX) | BEFORE.put(u8::MAX));
            value |= FROM.put(span.from) | BEFORE.put(span.before);
        }
        Meaning {
            roles: self.roles.and(other.roles),
            width: if self.width == other.width {
                self.width
            } else {
                NameWidth::Either
            },
            value,
        }
    }
}

/// The month packed into `value`: 1–13, or [`Meaning::DIFFERS`].
#[inline]
pub fn month_of(value: u32) -> u8 {
    MONTH.get(value)
}

/// The weekday packed into `value`: 1–7, or [`Meaning::DIFFERS`].
#[inline]
pub fn weekday_of(value: u32) -> u8 {
    WEEKDAY.get(value)
}

/// The day period packed into `value`; `None` where languages differ.
#[inline]
pub fn span_of(value: u32) -> Option<HourSpan> {
    let span = span(value);
    (span != HourSpan::DIFFERS).then_some(span)
}

/// The era packed into `value`: 1–62, or 63 where calendars differ.
#[inline]
pub fn era_of(value: u32) -> u8 {
    ERA.get(value)
}

/// The unit packed into `value`: 0–14, or 15 where languages differ.
#[inline]
pub fn unit_of(value: u32) -> u8 {
    UNIT.get(value)
}

#[inline]
fn span(value: u32) -> HourSpan {
    HourSpan {
        from: FROM.get(value),
        before: BEFORE.get(value),
    }
}
