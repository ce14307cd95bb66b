//! Numbers and lists in words, for every sentence that is told.

/// `1,204`
pub fn number(value: u64) -> String {
    let digits = value.to_string();
    let mut text = String::with_capacity(digits.len() + digits.len() / 3);
    for (index, digit) in digits.chars().enumerate() {
        if index > 0 && (digits.len() - index).is_multiple_of(3) {
            text.push(',');
        }
        text.push(digit);
    }
    text
}

/// `1 cell`, `1,204 cells`
pub fn count(value: u64, thing: &str) -> String {
    match value {
        1 => format!("1 {thing}"),
        _ => format!("{} {thing}s", number(value)),
    }
}

/// How far a day lies behind another, between these limits: `30 days after`,
/// `the same day as`, `0 to 3 days before`, `2 days before to 1 day after`.
pub fn in_days(least: i32, most: i32) -> String {
    let days = |days: i32| count(u64::from(days.unsigned_abs()), "day");
    match (least, most) {
        (0, 0) => "the same day as".to_owned(),
        _ if least == most && least > 0 => format!("{} after", days(least)),
        _ if least == most => format!("{} before", days(least)),
        (0.., _) => format!("{least} to {} after", days(most)),
        (_, ..=0) => format!("{} to {} before", most.unsigned_abs(), days(least)),
        _ => format!("{} before to {} after", days(least), days(most)),
    }
}

/// `a`, `a and b`, `a, b and c`
pub fn list<S: AsRef<str>>(words: &[S], last: &str) -> String {
    match words {
        [] => String::new(),
        [one] => one.as_ref().to_owned(),
        [most @ .., end] => {
            let most: Vec<&str> = most.iter().map(AsRef::as_ref).collect();
            format!("{} {last} {}", most.join(", "), end.as_ref())
        }
    }
}

/// The name in `valid` that is nearest to `wrong`, if any is near enough to
/// have been meant.
///
/// ```
/// use metachron_core::words::nearest;
///
/// assert_eq!(nearest("Lonaed out", ["Due", "Loaned out"]), Some("Loaned out"));
/// assert_eq!(nearest("Colour", ["Due", "Loaned out"]), None);
/// ```
pub fn nearest<'v>(wrong: &str, valid: impl IntoIterator<Item = &'v str>) -> Option<&'v str> {
    let wrong = wrong.to_lowercase();
    valid
        .into_iter()
        .map(|name| {
            let lower = name.to_lowercase();
            (strsim::normalized_damerau_levenshtein(&wrong, &lower), name)
        })
        .filter(|(likeness, _)| *likeness >= 0.5)
        .max_by(|(one, _), (other, _)| one.total_cmp(other))
        .map(|(_, name)| name)
}

/// At most so many columns are named.
const COLUMNS_NAMED: usize = 12;

/// That there is no column `wrong`, and the one that may have been meant, or
/// those that there are.
pub fn no_column<'v>(wrong: &str, valid: impl IntoIterator<Item = &'v str>) -> String {
    let valid: Vec<&str> = valid.into_iter().collect();
    if let Some(near) = nearest(wrong, valid.iter().copied()) {
        return format!("no column is called `{wrong}`; did you mean `{near}`?");
    }
    let shown = valid.iter().take(COLUMNS_NAMED);
    let shown: Vec<String> = shown.map(|column| format!("`{column}`")).collect();
    let more = if valid.len() > shown.len() {
        ", …"
    } else {
        ""
    };
    format!(
        "no column is called `{wrong}`; there are {}{more}",
        shown.join(", ")
    )
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn numbers_and_lists() {
        assert_eq!(number(0), "0");
        assert_eq!(number(999), "999");
        assert_eq!(number(1_204_000), "1,204,000");
        assert_eq!(count(1, "row"), "1 row");
        assert_eq!(list(&["a", "b", "c"], "or"), "a, b or c");
    }
}
