//! Lengths of time, as a shape may hold them.

use crate::form::{Elapsed, Form};
use crate::lex::{Class, Shape};

/// The lengths of time that a shape may hold, and whether it can hardly be
/// anything else.
pub(super) fn lengths(shape: &Shape) -> Vec<(Form, bool)> {
    let signed = matches!(shape.classes(), [Class::Symbol('-' | '+'), ..]);
    let long = shape.classes().contains(&Class::Digits(3));
    // `1h30` is a time of day first.
    let hour_sign = matches!(
        shape.classes(),
        [.., Class::H, Class::Short] | [.., Class::H, Class::Space, Class::Short]
    );
    let sure = |elapsed| match elapsed {
        Elapsed::Units => !hour_sign,
        Elapsed::Iso => true,
        // `065 13:45:20` may be the 65th day of a year.
        Elapsed::DayClock => signed,
        // Two digits and a colon are a time of day first.
        _ => signed || long,
    };
    [
        Elapsed::Units,
        Elapsed::Iso,
        Elapsed::DayClock,
        Elapsed::HourMinuteSecond,
        Elapsed::HourMinute,
        Elapsed::MinuteSecond,
    ]
    .into_iter()
    .map(|elapsed| (Form::of_elapsed(elapsed), sure(elapsed)))
    .filter(|(form, _)| form.fit(shape).is_some())
    .collect()
}
