//! Numbers of dates in Han characters: `二〇〇七年六月二十五日`.

/// The signs behind the numbers of a date and a time.
const SIGNS: &str = "年月日号號时時点點分秒";

/// The digit that a character is, by its place.
fn digit(letter: char) -> Option<u32> {
    let digits = "〇一二三四五六七八九".chars();
    let place = digits.zip(0..).find(|(known, _)| *known == letter);
    match (letter, place) {
        ('零' | '○', _) => Some(0),
        (_, place) => place.map(|(_, value)| value),
    }
}

fn is_numeral(letter: char) -> bool {
    digit(letter).is_some() || matches!(letter, '十' | '廿' | '卅')
}

/// The number that a run of characters is: digits one after the other, or tens and ones.
fn number(run: &str) -> Option<u32> {
    let run = run.replace('廿', "二十").replace('卅', "三十");
    let Some(ten) = run.find('十') else {
        let mut digits = run.chars();
        return digits.try_fold(0, |number, letter| Some(number * 10 + digit(letter)?));
    };
    let (tens, ones) = (&run[..ten], &run[ten + '十'.len_utf8()..]);
    let value = |run: &str, empty: u32| {
        let mut letters = run.chars();
        match (letters.next(), letters.next()) {
            (None, _) => Some(empty),
            (Some(letter), None) => digit(letter),
            _ => None,
        }
    };
    Some(value(tens, 1)? * 10 + value(ones, 0)?)
}

/// `text` with the numbers in front of `年`, `月`, `日` and the signs of a time in ASCII
/// digits, where it has a year so written; `None` where it has none.
///
/// Elsewhere the characters are names: `三月` of a month, `星期三` of a weekday. The first
/// year of a Japanese era is its origin: `平成元年`.
pub(super) fn with_digits(text: &str) -> Option<String> {
    let (before, _) = text.split_once('年')?;
    let last = before.chars().next_back()?;
    if !is_numeral(last) && last != '元' {
        return None;
    }
    let mut out = String::with_capacity(text.len());
    let mut run = String::new();
    for letter in text.chars() {
        if is_numeral(letter) {
            run.push(letter);
            continue;
        }
        match number(&run).filter(|_| !run.is_empty() && SIGNS.contains(letter)) {
            Some(number) => out.push_str(&number.to_string()),
            None => out.push_str(&run),
        }
        run.clear();
        if letter == '年' && out.ends_with('元') {
            out.pop();
            out.push('1');
        }
        out.push(letter);
    }
    out.push_str(&run);
    Some(out)
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn numbers_of_dates() {
        for (text, expected) in [
            ("二〇〇七年六月二十五日", Some("2007年6月25日")),
            (
                "一九九八年十二月三十一日 星期四",
                Some("1998年12月31日 星期四"),
            ),
            ("令和六年十月十日（木）", Some("令和6年10月10日（木）")),
            ("平成元年10月27日", Some("平成1年10月27日")),
            (
                "二零二四年一月廿五日上午十点三十分",
                Some("2024年1月25日上午10点30分"),
            ),
            ("三月五日", None),
            ("2024年三月5日", None),
        ] {
            assert_eq!(with_digits(text).as_deref(), expected, "{text}");
        }
    }
}
