use super::*;
use crate::form::Century;
use crate::lex::{Lexer, Words};
use crate::locale::Names;

/// Every usual reading of `text`, as `pattern = stamp`, in order.
fn usual(text: &str) -> Vec<String> {
    let mut lexer = Lexer::new(Names::Anywhere, Words::Keep);
    let cell = lexer.lex(text).unwrap();
    let readings = Readings::new(cell.shape(), &[]);
    let (_, stamps) = readings.of(&cell, Century::Window(1947).into());
    readings
        .candidates()
        .iter()
        .zip(stamps)
        .filter(|(candidate, _)| candidate.usual)
        .filter_map(|(candidate, stamp)| Some(format!("{} = {}", candidate.form, stamp.ok()?)))
        .collect()
}

#[test]
fn cells_with_one_usual_reading() {
    for (text, reading) in [
        ("2024-03-05", "yyyy-M-d = 2024-03-05"),
        ("2024/3/5", "yyyy/M/d = 2024-03-05"),
        ("2024.03.05", "yyyy.M.d = 2024-03-05"),
        ("2024 03 05", "yyyy M d = 2024-03-05"),
        ("31/12/2024", "d/M/yyyy = 2024-12-31"),
        ("12/31/2024", "M/d/yyyy = 2024-12-31"),
        ("31. 12. 2024.", "d. M. yyyy. = 2024-12-31"),
        ("31,12,2024", "d,M,yyyy = 2024-12-31"),
        ("31 12 2024", "d M yyyy = 2024-12-31"),
        ("85/06/09", "yy/M/d = 1985-06-09"),
        ("20240305", "yyyyMMdd = 2024-03-05"),
        (
            "20240305T143000Z",
            "yyyyMMdd'T'HHmmssXXX = 2024-03-05T14:30:00Z",
        ),
        ("20240305T1430", "yyyyMMdd'T'HHmm = 2024-03-05T14:30:00"),
        ("2024-03-05T14", "yyyy-M-d'T'HH = 2024-03-05T14:00:00"),
        (
            "2024-03-05T14+02:00",
            "yyyy-M-d'T'HHXXX = 2024-03-05T12:00:00Z",
        ),
        (
            "20240305143000.25-0500",
            "yyyyMMddHHmmss.SXX = 2024-03-05T19:30:00.25Z",
        ),
        (
            "2024-03-05_14-30-00",
            "yyyy-M-d_H-mm-ss = 2024-03-05T14:30:00",
        ),
        ("20240305_143000", "yyyyMMdd_HHmmss = 2024-03-05T14:30:00"),
        (
            "2024-03-05-14.30.00.250000",
            "yyyy-M-d-H.mm.ss.S = 2024-03-05T14:30:00.25",
        ),
        ("2024-03-05 1430", "yyyy-M-d HHmm = 2024-03-05T14:30:00"),
        (
            "13/03/2024 2:30 μμ",
            "d/M/yyyy h:mm a = 2024-03-13T14:30:00",
        ),
        ("13/3/2024 2:30 م", "d/M/yyyy h:mm a = 2024-03-13T14:30:00"),
        ("2024年3月4日(月)", "yyyy年M月d日(EEE) = 2024-03-04"),
        (
            "2024年3月5日（火）14時30分",
            "yyyy年M月d日(EEE)H時m分 = 2024-03-05T14:30:00",
        ),
        (
            "2024-03-05 @ 14:30",
            "yyyy-M-d @ H:mm = 2024-03-05T14:30:00",
        ),
        (
            "13.03.2024 (14:30)",
            "d.M.yyyy (H:mm) = 2024-03-13T14:30:00",
        ),
        (
            "13-MAR-2024 02.30.00.000000 PM",
            "d-MMM-yyyy h.mm.ss.S a = 2024-03-13T14:30:00",
        ),
        (
            "[2024-03-05T14:30:00,5+00:00]",
            "'['yyyy-M-d'T'H:mm:ss,SXXX']' = 2024-03-05T14:30:00.5Z",
        ),
        (
            "2024-03-05T14:30Z[UTC]",
            "yyyy-M-d'T'H:mmXXX'['z']' = 2024-03-05T14:30:00Z",
        ),
        (
            "2024-03-05 14:30:00 +0200 CEST",
            "yyyy-M-d H:mm:ss XX z = 2024-03-05T12:30:00Z",
        ),
        (
            "2:30 PM - 5 Mar 2024",
            "h:mm a - d MMM yyyy = 2024-03-05T14:30:00",
        ),
        (
            "14:30, 5 March 2024 (UTC)",
            "H:mm, d MMM yyyy (z) = 2024-03-05T14:30:00Z",
        ),
        (
            "Tuesday  , 05 March     2024",
            "EEE , d MMM yyyy = 2024-03-05",
        ),
        ("13MAR24:14:30:00", "dMMMyy:H:mm:ss = 2024-03-13T14:30:00"),
        ("2024-03-05T14:30", "yyyy-M-d'T'H:mm = 2024-03-05T14:30:00"),
        (
            "2024-03-05t14:30:00,5z",
            "yyyy-M-d'T'H:mm:ss,SXXX = 2024-03-05T14:30:00.5Z",
        ),
        (
            "2024-03-05 14:30:00 +0100",
            "yyyy-M-d H:mm:ss XX = 2024-03-05T13:30:00Z",
        ),
        (
            "2024-03-05T14:30-05:00",
            "yyyy-M-d'T'H:mmXXX = 2024-03-05T19:30:00Z",
        ),
        (
            "2024-03-05 14:30 UTC",
            "yyyy-M-d H:mm z = 2024-03-05T14:30:00Z",
        ),
        ("5 March 2024", "d MMM yyyy = 2024-03-05"),
        ("5th of March, 2024", "d'th' 'of' MMM, yyyy = 2024-03-05"),
        ("March 5th, 2024", "MMM d'th', yyyy = 2024-03-05"),
        ("Mar. 5, 2024", "MMM d, yyyy = 2024-03-05"),
        ("2024-Mar-05", "yyyy-MMM-d = 2024-03-05"),
        ("2024 5 Mar", "yyyy d MMM = 2024-03-05"),
        ("05MAR2024", "dMMMyyyy = 2024-03-05"),
        ("5-Mar-24", "d-MMM-yy = 2024-03-05"),
        ("Tue, 5 Mar 2024", "EEE, d MMM yyyy = 2024-03-05"),
        ("Tuesday 05/03/2024", "EEE d/M/yyyy = 2024-03-05"),
        ("05/03/2024 (Tue)", "d/M/yyyy (EEE) = 2024-03-05"),
        ("5 March 2024, Tuesday", "d MMM yyyy, EEE = 2024-03-05"),
        (
            "5 March 2024, 2:30 pm",
            "d MMM yyyy, h:mm a = 2024-03-05T14:30:00",
        ),
        ("14:30 31.12.2024", "H:mm d.M.yyyy = 2024-12-31T14:30:00"),
        (
            "31/12/2024 - 14:30",
            "d/M/yyyy - H:mm = 2024-12-31T14:30:00",
        ),
        (
            "2024:03:05 14:30:00",
            "yyyy:MM:dd H:mm:ss = 2024-03-05T14:30:00",
        ),
        (
            "2024年3月5日 14時30分",
            "yyyy年M月d日 H時m分 = 2024-03-05T14:30:00",
        ),
        (
            "5 March 2024 14h30",
            "d MMM yyyy H'h'mm = 2024-03-05T14:30:00",
        ),
        (
            "5 March 2024 at noon",
            "d MMM yyyy 'at' B = 2024-03-05T12:00:00",
        ),
        ("5.III.2024", "d.MMM.yyyy = 2024-03-05"),
        ("5 Mar '98", "d MMM ''yy = 1998-03-05"),
        ("2024-065", "yyyy-DDD = 2024-03-05"),
        ("2024-W10-2", "YYYY-'W'ww-e = 2024-03-05"),
        ("2024W102", "YYYY'W'wwe = 2024-03-05"),
        ("2024-W10", "YYYY-'W'ww = 2024-W10"),
        ("Q1 2024", "'Q'Q yyyy = 2024-Q1"),
        ("1T2024", "Q'T'yyyy = 2024-Q1"),
        ("Mar 2024", "MMM yyyy = 2024-03"),
        ("03/2024", "M/yyyy = 2024-03"),
        ("2024", "yyyy = 2024"),
        (
            "05/Mar/2024:14:30:00 +0100",
            "d/MMM/yyyy:H:mm:ss XX = 2024-03-05T13:30:00Z",
        ),
        (
            "Tue Mar  5 14:30:00 2024",
            "EEE MMM d H:mm:ss yyyy = 2024-03-05T14:30:00",
        ),
        (
            "Tue Mar 5 14:30:00 2024 +0100",
            "EEE MMM d H:mm:ss yyyy XX = 2024-03-05T13:30:00Z",
        ),
        (
            "Tue Mar  5 14:30:00 UTC 2024",
            "EEE MMM d H:mm:ss z yyyy = 2024-03-05T14:30:00Z",
        ),
        ("20240305143000Z", "yyyyMMddHHmmssX = 2024-03-05T14:30:00Z"),
        ("'2024-03-05", "''yyyy-M-d = 2024-03-05"),
        ("kl. 14.30", "'kl'. H.mm = 14:30:00"),
        ("15 March 44 BC", "d MMM y G = -000043-03-15"),
        ("45657", "days since 1899-12-30 = 2024-12-31"),
        ("41646.57708", "days since 1899-12-30 = 2014-01-07T13:51:00"),
        (
            "1735603200123",
            "milliseconds since 1970-01-01 = 2024-12-31T00:00:00.123Z",
        ),
        ("14:30", "H:mm = 14:30:00"),
        ("2:30:15 P.M.", "h:mm:ss a = 14:30:15"),
        ("2pm", "ha = 14:00:00"),
    ] {
        assert_eq!(usual(text), [reading], "{text}");
    }
}

#[test]
fn cells_with_several_readings() {
    assert_eq!(
        usual("03/04/2005"),
        ["d/M/yyyy = 2005-04-03", "M/d/yyyy = 2005-03-04"]
    );
    assert_eq!(
        usual("03/04/05"),
        [
            "d/M/yy = 2005-04-03",
            "M/d/yy = 2005-03-04",
            "yy/M/d = 2003-04-05"
        ]
    );
}

#[test]
fn cells_that_are_no_dates() {
    for text in [
        "3-2",
        "1.2.3",
        "192.168.1.1",
        "12.50",
        "12 500",
        "A-2024-03-05",
        "2024-2025",
        "12345-6789",
        "3:2",
        "1/2",
        "May",
        "30/02/2024",
        "2024-13-41",
        "Wed 5 Mar 2024",
        "05/03-2024",
        "5 Mar 2024 or 6 Mar 2024",
        "5 Mar 2024 / 6 Mar 2024",
        "2024-W54",
        "2024-367",
        "Q5 2024",
        "24 Dec",
        "065:13:45:20.5",
        "14:30+01:00",
        "",
        "-",
        "0000-00-00",
        "am",
        "5 pm pm",
        "(Tue) 5",
        "123456789012345678901234567890",
    ] {
        assert_eq!(usual(text), [""; 0], "{text}");
    }
}

#[test]
fn unusual_orders_are_there_but_not_usual() {
    let mut lexer = Lexer::default();
    let cell = lexer.lex("2024/25/03").unwrap();
    let readings = Readings::new(cell.shape(), &[]);
    let (outcome, stamps) = readings.of(&cell, Century::Open.into());
    let index = readings
        .candidates()
        .iter()
        .position(|candidate| candidate.order() == Some(Order::Ydm))
        .unwrap();
    assert!(!readings.candidates()[index].usual);
    assert!(outcome.reads(index));
    assert_eq!(stamps[index].unwrap().to_string(), "2024-03-25");
}

#[test]
fn a_stricter_form_stands_beside_the_one_that_reads_alike() {
    let mut lexer = Lexer::default();
    let cell = lexer.lex("5/3/2024").unwrap();
    let strict: Form = "dd/MM/yyyy".parse().unwrap();
    let mut readings = Readings::new(cell.shape(), std::slice::from_ref(&strict));
    assert_eq!(readings.candidates().len(), 3);
    let (outcome, _) = readings.of(&cell, Century::Open.into());
    assert_eq!(readings.name(&strict), Some(2));
    assert!(!outcome.reads(2), "dd wants two digits");
    assert_eq!(readings.least_strict(2), 0);
    assert!(outcome.reads(0) && outcome.reads(1));
}

#[test]
fn what_agrees_is_one_stamp() {
    let mut lexer = Lexer::default();
    let cell = lexer.lex("05/05/2024").unwrap();
    let (outcome, _) = Readings::new(cell.shape(), &[]).of(&cell, Century::Open.into());
    assert_eq!(outcome.agree([0, 1]), Some(true));
    let cell = lexer.lex("05/06/2024").unwrap();
    let (outcome, _) = Readings::new(cell.shape(), &[]).of(&cell, Century::Open.into());
    assert_eq!(outcome.agree([0, 1]), Some(false));
}

proptest::proptest! {
    /// Whatever a form that is inferred from a cell reads, reading the
    /// pattern back in reads the same.
    #[test]
    fn inferred_forms_survive_their_pattern(text in "[0-9/.: TZ-]{1,20}|[0-9]{1,2}[ /-](jan|May|Sept)[ /,-]{0,2}[0-9]{2,4}") {
        let mut lexer = Lexer::default();
        if let Ok(cell) = lexer.lex(&text) {
            for candidate in Readings::new(cell.shape(), &[]).candidates() {
                let again: Form = candidate.form.to_string().parse().unwrap();
                proptest::prop_assert_eq!(&again, &candidate.form);
            }
        }
    }

    /// No cell, however odd, makes the reader panic, in any language.
    #[test]
    fn no_cell_panics(
        text in "\\PC{0,60}|[0-9apmTZPDHMSWQ/:.,+ -]{0,30}|([0-9]{1,19}[ .,:-]?(de|мая|年|h|Uhr|mars|BC|noon|days|e)?[ .,]?){0,9}",
        declared in proptest::sample::select(vec![
            "days since 1899-12-30",
            "workbook-1900",
            "unix-ns",
            "elapsed units",
            "elapsed ISO 8601",
            "elapsed H:mm:ss",
            "d MMM y G",
            "DDD:HH:mm",
        ]),
    ) {
        let declared: Form = declared.parse().unwrap();
        for names in [Names::English, Names::Anywhere] {
            let mut lexer = Lexer::new(names, Words::Keep);
            if let Ok(cell) = lexer.lex(&text) {
                let readings = Readings::new(cell.shape(), std::slice::from_ref(&declared));
                let _ = readings.of(&cell, Century::Open.into());
                let _ = leftover(&cell);
            }
        }
    }
}

#[test]
fn reading_takes_time_in_proportion_to_length() {
    // Every name cut short, every sign repeated: nothing is tried twice.
    let mut lexer = Lexer::new(Names::Anywhere, Words::Keep);
    for piece in ["tháng ", "urtarrilaren", "1.", "м", "5 de ", "P1"] {
        let text = piece.repeat(crate::lex::MAX_CELL_BYTES / piece.len());
        let before = std::time::Instant::now();
        if let Ok(cell) = lexer.lex(&text) {
            let readings = Readings::new(cell.shape(), &[]);
            let _ = readings.of(&cell, Century::Open.into());
        }
        assert!(before.elapsed().as_millis() < 500, "{piece}");
    }
}

proptest::proptest! {
    /// What is put in comes out, of any number of candidates.
    #[test]
    fn outcomes_of_any_number_of_candidates(
        marks in proptest::collection::vec(0..5_u8, 0..40),
    ) {
        let mut outcome = Outcome::default();
        for (index, mark) in marks.iter().enumerate() {
            match mark {
                0 => {}
                1 => outcome.awaits_rule(index),
                2 => outcome.slip(index),
                _ => outcome.possible(index, index / 2),
            }
        }
        let mut again = Outcome::default();
        for (index, mark) in marks.iter().enumerate() {
            let reads = *mark > 2;
            proptest::prop_assert_eq!(outcome.class(index), reads.then_some(index / 2));
            proptest::prop_assert_eq!(outcome.needs_rule(index), *mark == 1);
            proptest::prop_assert_eq!(outcome.may_be(index), *mark > 0);
            if reads {
                again.possible(index, index / 2);
            }
        }
        proptest::prop_assert_eq!(outcome.is_unreadable(), marks.iter().all(|mark| *mark == 0));
        proptest::prop_assert_eq!(outcome == again, !marks.iter().any(|mark| [1, 2].contains(mark)));
        proptest::prop_assert!(!outcome.reads(marks.len() + 3));
    }
}

/// Whose sign it is: that of all parts, or of its own.
#[test]
fn signs_of_lengths() {
    for (text, length) in [
        ("-2 hours 30 minutes", "-PT2H30M"),
        ("-1 day, 4:55:17", "-PT19H4M43S"),
        ("-1 days +23:59:50", "-PT10S"),
        ("-1 days -02:03:04", "-P1DT2H3M4S"),
        ("16 days, 12:40:25.5", "P16DT12H40M25.5S"),
        ("@ 22 days 7 hours 34 mins 31 secs", "P22DT7H34M31S"),
        ("@ 22 days 7 hours 34 mins 31 secs ago", "-P22DT7H34M31S"),
        ("@ 23 days -7 hours -34 mins ago", "-P22DT16H26M"),
        ("-22 7:34:31", "-P22DT7H34M31S"),
        ("+00 15:10:43.5", "PT15H10M43.5S"),
        ("P-22DT-7H", "-P22DT7H"),
        ("P1DT-1H", "PT23H"),
    ] {
        let mut lexer = Lexer::new(Names::Anywhere, Words::Keep);
        let cell = lexer.lex(text).unwrap();
        let readings = Readings::new(cell.shape(), &[]);
        let (_, stamps) = readings.of(&cell, Century::Window(1947).into());
        let read: Vec<String> = stamps.iter().flatten().map(Stamp::to_string).collect();
        assert_eq!(read, [length], "{text}");
    }
    for text in [
        "5 م",
        "065 13:45:20",
        "5 min - 10 min",
        "2 days ago",
        "@ 2 days aug",
        "1 day 2:03",
    ] {
        assert_eq!(usual(text), Vec::<String>::new(), "{text}");
    }
}

#[test]
fn roman_numerals_are_months_and_quarters() {
    for (text, forms) in [
        ("III 2024", &["MMM yyyy = 2024-03", "Q yyyy = 2024-Q3"][..]),
        ("2024-IV", &["yyyy-MMM = 2024-04", "yyyy-Q = 2024-Q4"]),
        ("V/2024", &["MMM/yyyy = 2024-05"]),
        ("III kwartał 2024", &["Q 'kwartał' yyyy = 2024-Q3"]),
        ("2 кв. 2024", &["Q кв. yyyy = 2024-Q2"]),
        ("5.III.2024", &["d.MMM.yyyy = 2024-03-05"]),
        // No year behind it, and no capital letters.
        ("III 24", &[]),
        ("iii 2024", &[]),
        ("March 2024", &["MMM yyyy = 2024-03"]),
    ] {
        assert_eq!(usual(text), forms, "{text}");
    }
}

#[test]
fn letters_of_japanese_eras() {
    for (text, date) in [
        ("R6.3.5", "Gy.M.d = 2024-03-05"),
        ("H30/12/4", "Gy/M/d = 2018-12-04"),
        ("S57年1月2日", "Gy年M月d日 = 1982-01-02"),
    ] {
        assert_eq!(usual(text), [date], "{text}");
    }
    for text in ["R6.3", "r6.3.5", "X6.3.5", "R6.3.5.1", "R2024.3.5"] {
        assert_eq!(usual(text), Vec::<String>::new(), "{text}");
    }
}

#[test]
fn halves_of_the_day_in_two_letters_stand_behind_minutes() {
    for (text, time) in [
        ("2:08 CH", "h:mm a = 14:08:00"),
        ("2:08:33 SA", "h:mm:ss a = 02:08:33"),
        ("12:08 م", "h:mm a = 12:08:00"),
    ] {
        assert_eq!(usual(text), [time], "{text}");
    }
    // Neither twelve nor one at night is behind noon.
    let at_night = [
        "12:30 de la noche",
        "1:30 de la noche",
        "12:10 in the evening",
    ];
    for text in at_night.into_iter().chain(["5 CH", "5 م", "14:08 CH"]) {
        assert_eq!(usual(text), Vec::<String>::new(), "{text}");
    }
}

#[test]
fn dates_as_programs_write_them() {
    for (text, read) in [
        (
            "D:20240305143000+01'00'",
            "'d':yyyyMMddHHmmssXXX'' = 2024-03-05T13:30:00Z",
        ),
        (
            "D:20240305143000-05'30",
            "'d':yyyyMMddHHmmssXXX = 2024-03-05T20:00:00Z",
        ),
        ("D:20240305", "'d':yyyyMMdd = 2024-03-05"),
        (
            "/Date(1735603200123)/",
            "/'Date'(milliseconds since 1970-01-01)/ = 2024-12-31T00:00:00.123Z",
        ),
        (
            "Timestamp('2024-03-05 14:30')",
            "'Timestamp'(\"yyyy-M-d H:mm\") = 2024-03-05T14:30:00",
        ),
        (
            "ISODate(\"2024-03-05T14:30:00Z\")",
            "'ISODate'(\"yyyy-M-d'T'H:mm:ssXXX\") = 2024-03-05T14:30:00Z",
        ),
        ("DATE '2024-03-05'", "'DATE' \"yyyy-M-d\" = 2024-03-05"),
        ("{d '2024-03-05'}", "{'d' \"yyyy-M-d\"} = 2024-03-05"),
    ] {
        assert_eq!(usual(text), [read], "{text}");
        // What is written of the form reads the same.
        let (form, _) = read.split_once(" = ").unwrap();
        let form: Form = form.parse().unwrap();
        let mut lexer = Lexer::new(Names::Anywhere, Words::Keep);
        assert!(
            form.fit(&lexer.lex(text).unwrap().shape()).is_some(),
            "{text}"
        );
    }
    // As earlier versions wrote them.
    let form: Form = "'timestamp'(''yyyy-M-d H:mm'')".parse().unwrap();
    let mut lexer = Lexer::new(Names::Anywhere, Words::Keep);
    let cell = lexer.lex("Timestamp('2024-03-05 14:30')").unwrap();
    assert!(form.fit(&cell.shape()).is_some());
    for text in [
        "Date(2024-03-05",
        // The bracket at the end belongs to the one at the start.
        "[18:48Z[Europe/London][u-ca=gregory]",
        "/Date(1735603200123)",
        "Date('2024-03-05)",
        "invoice(2024-03-05)",
        "+01'00'",
    ] {
        assert_eq!(usual(text), Vec::<String>::new(), "{text}");
    }
}
