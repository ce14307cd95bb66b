//! The identifiers of zones.

/// The areas that the identifiers of zones begin with.
const AREAS: [&str; 11] = [
    "Africa",
    "America",
    "Antarctica",
    "Arctic",
    "Asia",
    "Atlantic",
    "Australia",
    "Etc",
    "Europe",
    "Indian",
    "Pacific",
];

/// How many bytes at the start of `text` look like the identifier of a zone:
/// `Europe/Lisbon`, `America/Argentina/Ushuaia`.
pub fn id_len(text: &str) -> Option<usize> {
    // Oracle writes them in capitals.
    let area = AREAS.iter().find_map(|area| {
        let (start, rest) = text.split_at_checked(area.len())?;
        start.eq_ignore_ascii_case(area).then_some(rest)
    });
    let index = area?.strip_prefix('/')?;
    index
        .starts_with(|first: char| first.is_ascii_alphabetic())
        .then_some(())?;
    let is_part = |byte: &u8| byte.is_ascii_alphanumeric() || b"/_+-".contains(byte);
    Some(text.bytes().take_while(|byte| is_part(byte)).count())
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn identifiers_of_zones() {
        for (text, len) in [
            ("Europe/Lisbon]", Some(13)),
            ("America/Argentina/Ushuaia", Some(25)),
            ("Etc/GMT+5 x", Some(9)),
            ("EUROPE/PARIS", Some(12)),
            ("Europe", None),
            ("Europe/", None),
            ("Europe/1", None),
            ("Oslo/Riga", None),
        ] {
            assert_eq!(id_len(text), len, "{text}");
        }
    }
}
