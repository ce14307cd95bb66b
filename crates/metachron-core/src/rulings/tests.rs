use super::*;
use crate::form::LeapSecond;
use crate::zone::WhichInstant;
use proptest::prelude::*;

fn form() -> impl Strategy<Value = FormRuling> {
    let pattern = prop::sample::select(vec![
        "dd/MM/yyyy",
        "M/d/yy",
        "yyyy-MM-dd'T'HH:mm:ss.SXXX",
        "d'th' 'of' MMMM yyyy",
        "h:mm a",
    ]);
    let form = pattern.prop_map(|pattern| pattern.parse().unwrap());
    prop_oneof![
        form.clone().prop_map(FormRuling::Settled),
        prop::collection::vec(form.clone(), 0..3).prop_map(FormRuling::Open),
        (
            prop::collection::vec(form, 0..3),
            prop::collection::vec(".{0,6}", 1..3),
            prop::collection::vec((".{0,6}", prop::sample::select(Order::ALL.to_vec())), 0..3),
        )
            .prop_map(|(either, by, orders)| FormRuling::ByGroup(GroupRuling {
                either,
                by,
                orders: orders.into_iter().collect(),
            })),
    ]
}

fn column() -> impl Strategy<Value = ColumnRuling> {
    (
        prop::sample::select(Kind::ALL.to_vec()),
        prop::collection::vec(form(), 0..4),
        prop::option::of(prop::sample::select(Order::ALL.to_vec())),
        prop::option::of(0..2100_i16),
        prop::option::of(prop::collection::vec(".{0,6}", 0..3)),
        prop::option::of(".{1,8}"),
        (prop::option::of(".{1,8}"), prop::option::of(".{1,8}")),
        prop::option::of(prop::sample::select(vec![
            "de",
            "sr-Latn",
            "th-u-ca-gregory",
        ])),
    )
        .prop_map(
            |(kind, forms, order, century, blanks, name, (year_from, half_of_day_from), locale)| {
                ColumnRuling {
                    kind,
                    read: ReadRuling {
                        end_of_day: Default::default(),
                        unit_letters: Default::default(),
                        period_as: Default::default(),
                        placeholders: Default::default(),
                        shifted_midnights: Default::default(),
                        locale: Locales(locale.iter().map(|tag| tag.parse().unwrap()).collect()),
                        calendar: locale.map(|_| Calendar::Coptic),
                        year: None,
                        year_from,
                        half_of_day_from,
                        zone_names: Default::default(),
                        forms,
                        order,
                        century,
                        blanks: blanks.clone(),
                        in_time_order: century.map(|_: i16| TimeOrder::Descending),
                        sorted_by: century.map(|_: i16| "no".to_owned()),
                        otherwise: order,
                        zone: (kind == Kind::Instant).then(|| "Europe/Riga".parse().unwrap()),
                        zone_from: None,
                        in_gap: WhichInstant::Later,
                        in_overlap: century.map_or(WhichInstant::Reject, |_| WhichInstant::Earlier),
                        leap_second: LeapSecond::Next,
                        not_before: name.clone(),
                        not_after: name.clone(),
                        days_after: name.iter().map(|name| (name.clone(), [-3, 30])).collect(),
                        same: blanks
                            .into_iter()
                            .flatten()
                            .map(|column| (DatePart::Weekday, column))
                            .collect(),
                    },
                    write: WriteRuling {
                        name,
                        pattern: (kind == Kind::Date).then(|| "d MMM yyyy[, EEE]".parse().unwrap()),
                        locale: locale.map(|tag| tag.parse().unwrap()),
                        unit: (kind == Kind::Duration).then_some(crate::stamp::LengthUnit::Hour),
                        decimals: (kind == Kind::Duration).then_some(2),
                        zone: (kind == Kind::Instant).then(|| "+05:30".parse().unwrap()),
                        zone_as: match kind {
                            Kind::Instant => ZoneAs::Name,
                            _ => ZoneAs::Offset,
                        },
                    },
                    baseline: century.map(|_| Baseline {
                        cells: 12,
                        earliest: Some("2024-03-05".to_owned()),
                        ..Baseline::default()
                    }),
                }
            },
        )
}

proptest! {
    /// Whatever is written is read back, whatever the names and comments.
    #[test]
    fn what_is_written_is_read_back(
        columns in prop::collection::vec((".{0,10}", column()), 0..4),
        comment in "(.|\n|\t|\u{7}){0,30}",
        header_line in prop::option::of(1..9_u32),
    ) {
        let mut rulings = Rulings::new(TableRuling {
            delimiter: Some('\t'),
            header_line: header_line.map(HeaderLine::Line),
            ..TableRuling::default()
        });
        let mut comments = Comments::default();
        comments.head.push(comment.clone());
        comments.foot.push(comment.clone());
        for (name, ruling) in columns {
            comments.columns.insert(name.clone(), vec![comment.clone()]);
            rulings.column.insert(name, ruling);
        }
        let text = with_checksum(&rulings.to_toml(&comments));
        prop_assert_eq!(Rulings::from_toml(&text).unwrap(), rulings);
        prop_assert!(checksum_holds(&text));
    }

    /// A setting is what the same line in the file would be.
    #[test]
    fn a_setting_is_a_line_of_the_file(name in "[a-z][a-z .'=]{0,8}", year in 0..2100_i16) {
        let mut rulings = Rulings::new(TableRuling::default());
        let ruling = "kind = \"date\"";
        let ruling: ColumnRuling = toml::from_str(ruling).unwrap();
        rulings.column.insert(name.clone(), ruling);
        let setting: Setting = format!("\"{name}\".read.century={year}").parse().unwrap();
        prop_assert_eq!(setting.column(), name.as_str());
        prop_assert_eq!(setting.read().unwrap().century, Some(year));
        let set = rulings.with_settings(&[setting]).unwrap();
        prop_assert_eq!(set.column[&name].read.century, Some(year));
    }
}

#[test]
fn settings_that_cannot_be_used() {
    for (text, message) in [
        ("due", "COLUMN.KEY=VALUE"),
        ("due=date", "the key is missing"),
        ("loaned out.kind=date", "in quotes"),
    ] {
        let error = text.parse::<Setting>().unwrap_err().to_string();
        assert!(error.contains(message), "{error}");
    }
}

#[test]
fn bare_words_and_lists_are_values() {
    let rulings = Rulings::from_toml("metachron = 1\n[column.due]\nkind = \"date\"\n").unwrap();
    let set = |text: &str| {
        let settings = [text.parse().unwrap()];
        rulings
            .with_settings(&settings)
            .map(|rulings| rulings.column["due"].clone())
    };
    assert_eq!(
        set("due.read.order=dmy").unwrap().read.order,
        Some(Order::Dmy)
    );
    assert_eq!(set("due.kind='instant'").unwrap().kind, Kind::Instant);
    let forms = set("due.read.forms=[['d/M/yyyy', 'M/d/yyyy']]")
        .unwrap()
        .read
        .forms;
    assert!(matches!(&forms[..], [FormRuling::Open(two)] if two.len() == 2));
    assert!(set("due.read.forms=d/M/yyyy").is_err(), "forms are a list");
    assert!(set("due.kind.x=1").is_err());
}

#[test]
fn a_header_line_is_a_number_or_none() {
    let table = |line: &str| {
        let text = format!("metachron = 1\n[table]\nheader-line = {line}\n");
        Rulings::from_toml(&text).map(|rulings| rulings.table.header_line)
    };
    assert_eq!(table("4").unwrap(), Some(HeaderLine::Line(4)));
    assert_eq!(
        table("\"none\"").unwrap(),
        Some(HeaderLine::None(NoHeader::None))
    );
    assert!(table("\"first\"").is_err());
}
