use super::*;
use crate::form::Form;
use crate::lex::Lexer;
use proptest::prelude::*;

/// Cells with letters and signs as programs write them, and any digits.
fn patterns() -> Vec<&'static str> {
    vec![
        "##/##/####",
        "#/##/####",
        "##.##.##",
        "####-##-##",
        "####-##-##T##:##:##Z",
        "####-##-##T##:##:##+02:00",
        "####-##-## ##:##:##.###",
        "##/##/#### #:## PM",
        "# Mar ####",
        "## February ####",
        "Tue, ## Mar #### ##:##:## +0100",
        "[##/Mar/####:##:##:## +0000]",
        "##:##:##",
        "##:##",
        "####-###",
        "#####",
        "#####.#####",
        "#####.########",
        "######",
        "#######",
        "########",
        "##########",
        "##########.###",
        "#############",
        "################",
        "##############",
        "####-##",
        "##-Mar-##",
    ]
}

proptest! {
    /// What is read by the digits alone is what the candidates read, and cells of the
    /// same code have the same outcome.
    #[test]
    fn digits_say_what_the_cells_say(
        pattern in prop::sample::select(patterns()),
        digits in prop::collection::vec(prop::collection::vec(0..10_u8, 20), 2..40),
        usual in prop::collection::vec((1950..2050_u16, 1..13_u8, 1..32_u8, 0..24_u8, 0..60_u8), 40),
        is_declared in any::<bool>(),
    ) {
        let fill = |digits: &mut dyn Iterator<Item = char>| -> String {
            pattern.chars().map(|letter| match letter {
                '#' => digits.next().unwrap_or('0'),
                letter => letter,
            }).collect()
        };
        let mut cells: Vec<String> = Vec::new();
        for (any, (year, month, day, hour, minute)) in digits.iter().zip(usual) {
            cells.push(fill(&mut any.iter().map(|digit| (b'0' + digit) as char)));
            for usual in [
                format!("{day:02}{month:02}{year}{hour:02}{minute:02}{minute:02}123"),
                format!("{year}{month:02}{day:02}{hour:02}{minute:02}{minute:02}123"),
                format!("{month:02}{day:02}{:02}000000000", year % 100),
                format!("{hour:02}{minute:02}{minute:02}000"),
            ] {
                cells.push(fill(&mut usual.chars()));
            }
        }
        let forms: Vec<Form> = if is_declared {
            ["d/M/yyyy", "workbook-1904", "yyyyMMdd", "unix-s"].map(|form| form.parse().unwrap()).into()
        } else {
            Vec::new()
        };
        let conventions = Conventions::default();
        let mut lexer = Lexer::default();
        let mut known: Option<(Readings, DigitReadings)> = None;
        let mut outcomes = std::collections::HashMap::new();
        for text in &cells {
            let Ok(cell) = lexer.lex(text) else { continue };
            let fresh = || {
                let readings = Readings::new(cell.shape(), &forms);
                let own = DigitReadings::of(&readings, &cell, conventions)?;
                Some((readings, own))
            };
            let is_of_layout = known.as_mut().is_some_and(|(readings, own)| {
                readings.shape().fits(&cell) && own.read(text.as_bytes()).is_some()
            });
            if !is_of_layout {
                known = fresh();
                outcomes.clear();
            }
            let Some((readings, own)) = &mut known else { continue };
            let Some(read) = own.read(text.as_bytes()) else { continue };
            let (outcome, stamps) = readings.of(&cell, conventions);
            for (index, stamp) in stamps.iter().enumerate() {
                let is_elapsed = own.sources[index] == Source::Elapsed;
                if is_elapsed {
                    prop_assert!(stamp.is_ok(), "{}", text);
                } else {
                    prop_assert_eq!(own.stamp(index, &read), stamp.ok(), "{} {}", text, readings.candidates()[index].form);
                }
            }
            let far: Vec<bool> = readings.candidates().iter().zip(&stamps).map(|(candidate, stamp)| {
                stamp.is_ok_and(|stamp| candidate.is_far_from_us(stamp))
            }).collect();
            let known = outcomes.entry(read.code).or_insert_with(|| (outcome.clone(), far.clone()));
            prop_assert_eq!(known, &(outcome, far), "{}", text);
        }
    }
}
