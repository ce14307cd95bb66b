//! Lengths of time, as a shape may hold them.

use crate::form::Elapsed;
use crate::lex::{Class, Holds};
use crate::locale::filler_text;

/// Words for hours that stand behind times of day rather than behind lengths, where a
/// colon parts the numbers.
const CLOCK_FIRST: [&str; 3] = ["hod", "hodin", "uur"];

/// The lengths of time that these classes may hold, and whether they can hardly be
/// anything else; `holds` is what a program's wrapping says.
pub(super) fn lengths(classes: &[Class], holds: Option<Holds>) -> Vec<(Elapsed, bool)> {
    let signed = matches!(classes, [Class::Symbol('-' | '+'), ..]);
    let long = classes.contains(&Class::Digits(3));
    // `1h30` is a time of day first, and so are `1:30 h` and `1:30 uur`; `1:30 hours` and
    // `1:30 ч` are either.
    let is_either = |word| match word {
        Class::Filler(word) => !CLOCK_FIRST.contains(&filler_text(word)),
        other => other != Class::H,
    };
    let hour_sign = match classes {
        [.., Class::H, Class::Short] | [.., Class::H, Class::Space, Class::Short] => true,
        [.., word] if !is_either(*word) => {
            !signed && !long && Elapsed::is_clock_with_hours(classes)
        }
        _ => false,
    };
    // `19 hod.` is seven in the evening first.
    let is_hour_alone = matches!(
        classes,
        [Class::Short, Class::Filler(_)]
            | [Class::Short, Class::Space, Class::Filler(_)]
            | [
                Class::Short,
                Class::Space,
                Class::Filler(_),
                Class::Symbol('.')
            ]
    );
    let sure = |elapsed| match elapsed {
        Elapsed::Units => !hour_sign && !is_hour_alone,
        Elapsed::Iso | Elapsed::NamedUnits => true,
        // `+44-11` may be a telephone's prefix.
        Elapsed::Sql => classes.contains(&Class::Space),
        // `065 13:45:20` may be the 65th day of a year.
        Elapsed::DayClock => signed,
        // `5'11"` is a height as well.
        Elapsed::Primes => classes.contains(&Class::H),
        // Two digits and a colon are a time of day first.
        Elapsed::HourMinuteSecond | Elapsed::HourMinute | Elapsed::MinuteSecond => signed || long,
    };
    let may_be = |elapsed: &Elapsed| match holds {
        None | Some(Holds::Any | Holds::Written) => *elapsed != Elapsed::NamedUnits,
        Some(Holds::NamedUnits) => *elapsed == Elapsed::NamedUnits,
        Some(Holds::Parts | Holds::DayParts | Holds::Seconds | Holds::Milliseconds) => false,
    };
    Elapsed::all()
        .filter(may_be)
        .filter(|elapsed| elapsed.fits(classes))
        .map(|elapsed| (elapsed, sure(elapsed)))
        .collect()
}
