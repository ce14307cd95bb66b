//! Columns in other languages, calendars, counts and lengths of time.

use crate::harness::{Folder, converted, converted_as, holds};

#[test]
fn columns_of_many_languages_are_read_without_a_hint() {
    for (cells, dates) in [
        (
            ["5 de mayo de 2024", "17 de enero de 2023"],
            ["2024-05-05", "2023-01-17"],
        ),
        (
            ["11 de janeiro de 2024", "2 de março de 2024"],
            ["2024-01-11", "2024-03-02"],
        ),
        (
            ["mar. 5 mars 2024", "1er août 2024"],
            ["2024-03-05", "2024-08-01"],
        ),
        (
            ["5. März 2024", "17. Dez. 2023"],
            ["2024-03-05", "2023-12-17"],
        ),
        (
            ["3 мая 2024 г.", "12 января 2023 г."],
            ["2024-05-03", "2023-01-12"],
        ),
        (
            ["5 במרץ 2024", "12 במאי 2023"],
            ["2024-03-05", "2023-05-12"],
        ),
        (
            ["2024년 3월 5일", "2023년 12월 1일"],
            ["2024-03-05", "2023-12-01"],
        ),
        (
            ["5 Mayıs 2024", "12 Ağustos 2023"],
            ["2024-05-05", "2023-08-12"],
        ),
        (
            ["5 lokakuuta 2024", "12 toukokuuta 2023"],
            ["2024-10-05", "2023-05-12"],
        ),
        (
            ["ngày 5 tháng 3 năm 2024", "ngày 12 tháng 12 năm 2023"],
            ["2024-03-05", "2023-12-12"],
        ),
        (
            ["5 มี.ค. 2567", "12 ธ.ค. 2566"],
            ["2024-03-05", "2023-12-12"],
        ),
        (
            ["令和6年3月5日", "平成30年12月1日"],
            ["2024-03-05", "2018-12-01"],
        ),
    ] {
        assert_eq!(converted(&cells, &[]), dates, "{cells:?}");
    }
}

/// What date(1) and programs that call strftime write in locales whose patterns CLDR has
/// not, and what people write: read without a hint as with one.
#[test]
fn patterns_of_the_c_library_and_of_every_day() {
    for (tag, cells, dates) in [
        (
            "mn",
            [
                "2024 3-р сар 05, Мя 14:30:00",
                "2023 12-р сар 01, Ба 09:05:00",
            ],
            ["2024-03-05T14:30:00", "2023-12-01T09:05:00"],
        ),
        (
            "sq",
            ["Mar 5 Mar 2024 02:30:00.MD", "Pre 1 Dhj 2023 09:05:00.PD"],
            ["2024-03-05T14:30:00", "2023-12-01T09:05:00"],
        ),
        (
            "te",
            [
                "మార్చి 05 మంగళవారం 2024 సా.02.30.00",
                "డిసెంబర్ 01 శుక్రవారం 2023 ఉ.09.05.00",
            ],
            ["2024-03-05T14:30:00", "2023-12-01T09:05:00"],
        ),
        (
            "br",
            [
                "Dʼar Lun 04 a viz Mae 2026 14:30:00",
                "Dʼar Gwener 01 a viz Kerzu 2023 09:05:00",
            ],
            ["2026-05-04T14:30:00", "2023-12-01T09:05:00"],
        ),
        (
            "eo",
            ["la 5-a de marto 2024", "la 1-a de decembro 2023"],
            ["2024-03-05", "2023-12-01"],
        ),
        (
            "ru",
            ["«5» марта 2024 г.", "«01» декабря 2023 г."],
            ["2024-03-05", "2023-12-01"],
        ),
    ] {
        assert_eq!(converted(&cells, &[]), dates, "{cells:?}");
        assert_eq!(converted(&cells, &["--read-locale", tag]), dates, "{tag}");
    }
}

/// One accent of two, capitals, endings, letters in two, words cut off without accents.
#[test]
fn names_in_every_spelling() {
    for (tag, cell, date) in [
        ("el", "5 ΜΑΪΟΥ 2024", "2024-05-05"),
        ("el", "5 Μαϊ 2024", "2024-05-05"),
        ("el", "1η Ιουνίου 2024", "2024-06-01"),
        ("tr", "PAZARTESİ, 30 NİSAN 2029", "2029-04-30"),
        ("de", "5. Maerz 2024", "2024-03-05"),
        ("is", "thridjudagur, 5 mars 2024", "2024-03-05"),
        ("da", "loerdag den 2. marts 2024", "2024-03-02"),
        ("fr", "5-AOU-2024", "2024-08-05"),
        ("en", "December the 5th, 2024", "2024-12-05"),
        ("en", "on April 21st, 2024", "2024-04-21"),
        ("ms", "5 Ogos 2024 8:29 PM", "2024-08-05T20:29:00"),
        ("ko", "2024년 3월 4일 (월)", "2024-03-04"),
        ("zh", "2024年3月5日（二）", "2024-03-05"),
        ("zh", "二〇二四年三月五日", "2024-03-05"),
        ("ja", "平成元年10月27日", "1989-10-27"),
        ("th", "5 มีนาคม 2567, 14.30 น.", "2024-03-05T14:30:00"),
        ("et", "L 31 mai 1975", "1975-05-31"),
    ] {
        assert_eq!(
            converted(&[cell], &["--read-locale", tag]),
            [date],
            "{cell}"
        );
    }
    // June in Morocco, July in France's C library.
    assert_eq!(converted(&["5 jui 2024"], &["--read-locale", "fr"]), [""]);
    // The wrong weekday, in any spelling.
    for (tag, cell) in [("ko", "2024년 3월 4일 (화)"), ("zh", "2024年3月5日（三）")] {
        assert_eq!(converted(&[cell], &["--read-locale", tag]), [cell]);
    }
}

#[test]
fn a_name_of_two_months_is_told_apart_by_the_others_or_stays_open() {
    let croatian = ["5 listopad 2024", "6 srpnja 2023"];
    assert_eq!(converted(&croatian, &[]), ["2024-10-05", "2023-07-06"]);
    let polish = ["5 listopada 2024", "6 lipca 2023"];
    assert_eq!(converted(&polish, &[]), ["2024-11-05", "2023-07-06"]);
    let either = ["5 listopad 2024", "6 listopad 2023"];
    assert_eq!(converted(&either, &[]), ["", ""]);
    let folder = Folder::with("x.csv", "when\n5 listopad 2024\n6 Mar 2024 / 7 Mar 2024\n");
    let run = folder.run(&["survey", "x.csv", "-c", "when"]);
    holds(
        &run.out,
        &[
            "locale=hr'  5 October 2024",
            "locale=pl'  5 November 2024",
            "it holds `/ 7 Mar 2024`",
        ],
    );
    assert_eq!(
        converted(&either, &["--read-locale", "hr"]),
        ["2024-10-05", "2023-10-06"]
    );
}

#[test]
fn a_ruled_locale_replays_on_new_data() {
    let folder = Folder::with("x.csv", "when\n5. März 2024\n17. Dez. 2023\n");
    folder.run(&["settle", "x.csv", "-o", "x.toml"]).status(0);
    holds(
        &folder.read("x.toml"),
        &["locale = \"de\"", "its names are read as those of de"],
    );
    folder.write("y.csv", "when\n1. Mai 2025\n1. mayo 2025\n");
    let run = folder.run(&["convert", "y.csv", "-r", "x.toml"]).status(3);
    assert_eq!(run.out, "when\n2025-05-01\n\"\"\n");
}

#[test]
fn declared_orders_and_calendars_of_locales() {
    for (options, cell, date) in [
        (&["--read-locale", "en-US"][..], "03/04/2024", "2024-03-04"),
        (&["--read-locale", "en-GB"], "03/04/2024", "2024-04-03"),
        (&["--read-locale", "th"], "5/3/2567", "2024-03-05"),
        (
            &["--read-locale", "th-TH-u-ca-gregory"],
            "5/3/2024",
            "2024-03-05",
        ),
        (&["--read-locale", "fa"], "15 اسفند 1402", "2024-03-05"),
        (
            &["--set", "when.read.calendar=persian"],
            "1402/12/15",
            "2024-03-05",
        ),
        (
            &["--set", "when.read.calendar=julian"],
            "2024-02-21",
            "2024-03-05",
        ),
    ] {
        assert_eq!(
            converted(&[cell, cell], options),
            [date, date],
            "{options:?}"
        );
    }
}

/// Kannada's short dates were month-day-year in CLDR 27, and are day-month-year now.
#[test]
fn an_order_that_editions_do_not_agree_about_is_asked_about() {
    for (locale, cells, dates) in [
        ("kn", ["3/4/2024", "5/6/2023"], ["", ""]),
        ("en-PH", ["03/04/24", "05/06/23"], ["", ""]),
        // Its own cells tell.
        (
            "kn",
            ["3/4/2024", "25/6/2023"],
            ["2024-04-03", "2023-06-25"],
        ),
        // Other editions write it with other signs.
        (
            "sv-FI",
            ["3.4.2024", "5.6.2023"],
            ["2024-04-03", "2023-06-05"],
        ),
        (
            "en-IN",
            ["3/4/2024", "5/6/2023"],
            ["2024-04-03", "2023-06-05"],
        ),
    ] {
        let found = converted(&cells, &["--read-locale", locale]);
        assert_eq!(found, dates, "{locale} {cells:?}");
    }
    let folder = Folder::with("x.csv", "when,x\n3/4/2024,1\n5/6/2023,2\n");
    let run = folder.run(&["survey", "x.csv", "--read-locale", "kn", "--why"]);
    holds(
        &run.out,
        &[
            "writes short dates as day-month-year, and month-day-year in CLDR's edition 27;",
            "--read-order mdy",
        ],
    );
}

#[test]
fn numbers_are_dates_only_where_something_says_so() {
    let numbers = ["45657", "45300.5"];
    assert_eq!(converted_as("n", &numbers, &[]), numbers, "a plain column");
    let dates = ["2024-12-31T00:00:00", "2024-01-09T12:00:00"];
    assert_eq!(converted_as("sold date", &numbers, &[]), dates, "its name");
    let count = ["-c", "n", "--read-count", "days since 1899-12-30"];
    assert_eq!(converted_as("n", &numbers, &count), dates, "declared");
    let with_dates = ["31/12/2024", "45657", "13/01/2024"];
    assert_eq!(
        converted_as("n", &with_dates, &[]),
        ["2024-12-31", "2024-12-31", "2024-01-13"],
        "dates in its column"
    );
    let codes = ["31/12/2024", "99123", "13/01/2024"];
    assert_eq!(
        converted_as("n", &codes, &[]),
        ["2024-12-31", "", "2024-01-13"]
    );
    let far = ["10115", "99123"];
    assert_eq!(converted_as("date", &far, &[]), far, "no days of our time");
}

#[test]
fn the_workbooks_first_days() {
    let count = ["-c", "n", "--read-count", "workbook-1900"];
    let cells = ["1", "59", "60", "61", "0", "0.5"];
    assert_eq!(
        converted_as("n", &cells, &count),
        ["1900-01-01", "1900-02-28", "", "1900-03-01", "", ""]
    );
}

#[test]
fn lengths_of_time() {
    let words = ["2 days 3 hours", "1h 30m", "90 min", "2 Std. 5 Min."];
    assert_eq!(
        converted(&words, &[]),
        ["P2DT3H", "PT1H30M", "PT1H30M", "PT2H5M"]
    );
    let clocks = ["1:30:00", "100:15:00"];
    assert_eq!(converted(&clocks, &[]), ["PT1H30M", "P4DT4H15M"]);
    let named = ["1:30:00", "2:15:00"];
    assert_eq!(converted(&named, &[]), ["01:30:00", "02:15:00"]);
    assert_eq!(
        converted_as("duration", &named, &[]),
        ["PT1H30M", "PT2H15M"]
    );
    let either = ["1:30", "2:15"];
    assert_eq!(converted_as("duration", &either, &[]), ["", ""]);
    assert_eq!(
        converted_as("duration", &either, &["--read-form", "elapsed m:ss"]),
        ["PT1M30S", "PT2M15S"]
    );
    // Metres and watts, perhaps: they stay as they are, and wait where the
    // column is said to hold times or lengths of time.
    for cells in [["5 m", "7 m"], ["60 W", "100 W"]] {
        assert_eq!(converted(&cells, &[]), cells);
        assert_eq!(converted(&cells, &["-c", "when"]), ["", ""]);
        assert_eq!(converted_as("duration", &cells, &[]), ["", ""]);
    }
}

#[test]
fn months_in_numbers_are_told_from_other_numbers() {
    assert_eq!(
        converted(&["03/2024", "12/2023"], &[]),
        ["2024-03", "2023-12"]
    );
    let invoices = ["1/2024", "2/2024"];
    assert_eq!(
        converted(&invoices, &[]),
        invoices,
        "numbers of a year, perhaps"
    );
    assert_eq!(
        converted(&invoices, &["-c", "when"]),
        ["2024-01", "2024-02"]
    );
    assert_eq!(
        converted(&["K-123456", "K-010203"], &[]),
        ["K-123456", "K-010203"]
    );
    assert_eq!(converted(&["99123", "10115"], &[]), ["99123", "10115"]);
}

#[test]
fn examples_say_how_a_column_is_read() {
    let cells = ["6062020", "13062020", "7082020"];
    let example = [
        "-c",
        "when",
        "--example",
        "13062020=2020-06-13",
        "--example",
        "6062020=2020-06-06",
    ];
    assert_eq!(converted(&cells, &example)[1], "2020-06-13");
    let folder = Folder::with("x.csv", "when\n6062020\n");
    let wrong = [
        "convert",
        "x.csv",
        "-c",
        "when",
        "--example",
        "6062020=2020-06-07",
    ];
    let run = folder.run(&wrong).status(2);
    holds(&run.err, &["no form reads `6062020` as 2020-06-07"]);
}

#[test]
fn unknown_names_get_the_nearest() {
    let folder = Folder::with("x.csv", "when\n1/2/2024\n");
    for (args, hint) in [
        (&["--read-locale", "de-"][..], "did you mean `de`"),
        (&["--read-count", "unix"], "did you mean `unix-"),
        (
            &["--read-count", "dayz since 1900-01-01"],
            "did you mean `days`",
        ),
        (
            &["--set", "when.read.calendar=budhist"],
            "did you mean `buddhist`",
        ),
    ] {
        let mut all = vec!["survey", "x.csv"];
        all.extend(args);
        let run = folder.run(&all).status(2);
        holds(&run.err, &[hint]);
    }
}

#[test]
fn locales_are_listed_by_what_they_write() {
    let folder = Folder::new();
    let run = folder.run(&["locales", "de março"]).status(0);
    holds(&run.out, &["pt", "terça-feira, 5 de março de 2024"]);
    // One of them, with its patterns.
    let run = folder.run(&["locales", "hr"]).status(0);
    holds(
        &run.out,
        &["Patterns that hr is read by", "EEEE, d. MMMM y."],
    );
    let run = folder.run(&["locales", "es-419"]).status(0);
    holds(&run.out, &["Patterns that es-419 is read by"]);
    let run = folder.run(&["locales", "--json"]).status(0);
    let listed: Vec<serde_json::Value> = serde_json::from_str(&run.out).expect("a list");
    assert!(listed.len() > 700, "{}", listed.len());
}

/// What a cell is, by the languages that may have written it.
#[test]
fn a_cell_is_read_in_the_languages_that_have_its_names() {
    let folder = Folder::new();
    let locales = |cell: &str| folder.run(&["locales", cell]).status(0).out;
    let told = locales("31. siječnja 2014.");
    assert_eq!(told, " 2014-01-31  d. MMM yyyy.  hr\n");
    let several = locales("5. listopad 2024");
    holds(
        &several,
        &[
            "2024-11-05  d. MMM yyyy  pl, cs",
            "2024-10-05  d. MMM yyyy  hr",
            "does not tell them apart",
        ],
    );
    let numbers = locales("05/03/2024");
    holds(
        &numbers,
        &[
            "2024-05-03  M/d/yyyy  en",
            "2024-03-05  d/M/yyyy  es, fr, de",
        ],
    );
    assert!(!numbers.contains("1481"), "{numbers}");
    let run = folder.run(&["locales", "5 mars 2024", "--json"]).status(0);
    let read: Vec<serde_json::Value> = serde_json::from_str(&run.out).expect("a list");
    assert_eq!(read[0]["stamp"], "2024-03-05");
    assert_eq!(read[0]["locales"][0], "fr");
    let none = folder.run(&["locales", "crate 17"]).status(0);
    holds(&none.err, &["no locale has such a tag"]);
}

/// What people of a language write besides what CLDR's patterns have.
#[test]
fn little_words_of_languages() {
    for (cell, expected) in [
        ("31 كانون الأول 1977", "1977-12-31"),
        ("12 نيسان 1986", "1986-04-12"),
        ("2 أبريل 1980 الساعة 17:37", "1980-04-02T17:37:00"),
        ("op 30 juni 1973", "1973-06-30"),
        ("31 marca 2019 r.", "2019-03-31"),
        ("styczeń 2024 r.", "2024-01"),
        ("1977 წლის 6 იანვარი", "1977-01-06"),
        (
            "miercuri, 10 februarie 1971, ora 13:48",
            "1971-02-10T13:48:00",
        ),
        ("10 Temmuz 1985 Çarşamba, saat 14:31", "1985-07-10T14:31:00"),
        ("el domingo 30 de junio de 1991", "1991-06-30"),
        ("2 กันยายน พ.ศ. 2515", "1972-09-02"),
        ("21 जनवरी 1973 को 22:54 बजे", "1973-01-21T22:54:00"),
        ("1981年2月9日下午8时41分", "1981-02-09T20:41:00"),
        ("\u{202b}2 أبريل 1980\u{202c}", "1980-04-02"),
        ("17 October A.D. 1994", "1994-10-17"),
        ("17 October 1994 A.D.", "1994-10-17"),
        ("11 March 44 BC", "-000043-03-11"),
    ] {
        assert_eq!(converted(&[cell], &[]), [expected], "{cell}");
    }
    // June in Morocco, and cut off elsewhere June or July.
    assert_eq!(converted(&["8 jui 1977"], &[]), ["8 jui 1977"]);
    // Nothing says whose `e.C.` it is: before or since.
    assert_eq!(converted(&["5 de marzo de 44 e.C."], &[]), [""]);
}

/// What CLDR lacks, and calendars, databases and C libraries write.
#[test]
fn everyday_names_of_languages() {
    let polish = [
        "so 04/02/2023",
        "pn 23/05/2022",
        "cz 30/11/2023",
        "wt 05/11/2024",
    ];
    let days = ["2023-02-04", "2022-05-23", "2023-11-30", "2024-11-05"];
    assert_eq!(converted(&polish, &[]), days);
    assert_eq!(converted(&["Пнд 29-Фев-2016"], &[]), ["2016-02-29"]);
    for (locale, cell, expected) in [
        ("uk", "Ндл 13-Сер-2000", "2000-08-13"),
        ("ro", "Sb 31 aug 1985", "1985-08-31"),
        ("fil", "07:24:09 N.H.", "19:24:09"),
        ("sq", "10:15:58 PD", "10:15:58"),
    ] {
        let options = ["--read-locale", locale];
        assert_eq!(converted(&[cell], &options), [expected], "{cell}");
    }
}

/// What a survey says is what converting does, also where the ruled locales read
/// other cells than all languages together.
#[test]
fn a_survey_reads_by_the_locales_that_are_ruled() {
    let table = "when\n29 fév 2016\n3 mai 1974\n12 nov 2017\n8 jui 1977\n4 avr 1990\n";
    let folder = Folder::with("x.csv", table);
    let survey = folder
        .run(&["survey", "x.csv", "-c", "when", "--json"])
        .json();
    let cells = &survey["columns"][0]["cells"];
    let converted = folder.run(&["convert", "x.csv", "-c", "when", "-o", "y.csv"]);
    let says =
        |word: &str, count: u64| count == 0 || converted.err.contains(&format!("{count} {word}"));
    for word in ["certain", "settled", "open", "unreadable"] {
        let count = cells[word].as_u64().unwrap();
        assert!(says(word, count), "{count} {word}: {}", converted.err);
    }
}

/// Programs that know no abbreviations cut names off.
#[test]
fn names_cut_off_are_known_in_a_locale_that_is_said() {
    for (locale, cell, expected) in [
        ("ar-EG", "09 ينا 2008", "2008-01-09"),
        ("eo", "ven 05 Maj 1995", "1995-05-05"),
        ("he-IL", "12 דצמ 1970", "1970-12-12"),
        ("sq-AL", "Mër 15 Pri 2026", "2026-04-15"),
        // The word that all weekdays begin with is left off.
        ("cy", "Iau 31 Hydref 2024", "2024-10-31"),
        ("he", "רביעי 02 יולי 1986", "1986-07-02"),
        // The month, and not Tuesday.
        ("fr-CA", "ven 01 mar 2013", "2013-03-01"),
        // June or July.
        ("fr", "9 jui 2020", ""),
        // `mai`, and not cut off from `maid`.
        ("et", "9 mai 2020", "2020-05-09"),
    ] {
        let options = ["--read-locale", locale];
        assert_eq!(converted(&[cell], &options), [expected], "{cell}");
    }
    assert_eq!(converted(&["12 דצמ 1970"], &[]), ["12 דצמ 1970"]);
}
