//! Writes demo/insurance.xlsx again: a register of valuations, day before month,
//! that was opened by a program which reads month before day.
//! `cargo run -p metachron --example demo_workbook`

use jiff::civil::{Date, date};
use rust_xlsxwriter::{DocProperties, ExcelDateTime, Format, Workbook, XlsxError};
use std::path::Path;

/// The things that were valued, when, and at how much.
const VALUED: [(&str, &str, Date, u32); 44] = [
    ("V-01", "Caravan bell", date(2024, 10, 15), 5706),
    ("V-02", "Projector", date(2024, 11, 10), 4768),
    ("V-03", "Rake", date(2024, 2, 22), 5673),
    ("V-04", "Model of a brine pump", date(2024, 7, 28), 345),
    ("V-05", "Caravan bell", date(2024, 1, 25), 7326),
    ("V-06", "Seal of the salt tax", date(2024, 12, 7), 5767),
    ("V-07", "Ledger", date(2024, 2, 21), 5435),
    ("V-08", "Rake", date(2024, 11, 15), 6915),
    ("V-09", "Seal of the salt tax", date(2025, 1, 16), 7367),
    ("V-10", "Seal of the salt tax", date(2024, 4, 5), 7149),
    ("V-11", "Model of a brine pump", date(2025, 2, 13), 8617),
    ("V-12", "Rake", date(2024, 4, 18), 6961),
    ("V-13", "Map of the coast", date(2024, 6, 9), 8426),
    ("V-14", "Seal of the salt tax", date(2025, 1, 27), 6769),
    ("V-15", "Ledger", date(2025, 2, 14), 8489),
    ("V-16", "Map of the coast", date(2024, 3, 22), 4943),
    ("V-17", "Ledger", date(2024, 11, 4), 6549),
    ("V-18", "Caravan bell", date(2024, 11, 20), 6056),
    ("V-19", "Map of the coast", date(2024, 3, 20), 2497),
    ("V-20", "Pan for boiling salt", date(2024, 12, 26), 1174),
    ("V-21", "Model of a brine pump", date(2024, 10, 17), 2715),
    ("V-22", "Model of a brine pump", date(2024, 8, 8), 7684),
    ("V-23", "Projector", date(2024, 6, 1), 2590),
    ("V-24", "Seal of the salt tax", date(2024, 6, 21), 4600),
    ("V-25", "Salt cellar", date(2024, 1, 16), 6569),
    ("V-26", "Rake", date(2024, 8, 8), 2266),
    ("V-27", "Miner's lamp", date(2024, 8, 19), 4794),
    ("V-28", "Salt cellar", date(2024, 1, 13), 686),
    ("V-29", "Map of the coast", date(2025, 2, 1), 2014),
    ("V-30", "Rake", date(2024, 1, 12), 998),
    ("V-31", "Rake", date(2024, 1, 28), 176),
    ("V-32", "Miner's lamp", date(2024, 3, 26), 7398),
    ("V-33", "Seal of the salt tax", date(2024, 7, 16), 1117),
    ("V-34", "Seal of the salt tax", date(2024, 1, 23), 4252),
    ("V-35", "Salt cellar", date(2024, 9, 20), 2118),
    ("V-36", "Caravan bell", date(2024, 4, 17), 2750),
    ("V-37", "Model of a brine pump", date(2024, 1, 26), 3699),
    ("V-38", "Seal of the salt tax", date(2024, 4, 21), 8760),
    ("V-39", "Pan for boiling salt", date(2024, 5, 12), 3758),
    ("V-40", "Salt cellar", date(2025, 2, 2), 1928),
    ("V-41", "Projector", date(2025, 2, 18), 4174),
    ("V-42", "Seal of the salt tax", date(2024, 6, 18), 6835),
    ("V-43", "Salt cellar", date(2025, 2, 13), 5317),
    ("V-44", "Map of the coast", date(2024, 8, 6), 2715),
];

fn main() -> Result<(), XlsxError> {
    let mut book = Workbook::new();
    let made = ExcelDateTime::from_ymd(2025, 3, 14)?;
    book.set_properties(&DocProperties::new().set_creation_datetime(&made));
    book.add_worksheet()
        .set_name("Read me")?
        .write_string(0, 0, "Kept by the registrar")?;
    let sheet = book.add_worksheet();
    sheet.set_name("Valuations")?;
    sheet.write_string(0, 0, "Insurance valuations for \"The Salt Road\"")?;
    for (column, name) in ["no", "object", "valued on", "premium"].iter().enumerate() {
        sheet.write_string(2, column as u16, *name)?;
    }
    let shown = Format::new().set_num_format("mm/dd/yyyy");
    for (row, (number, object, day, premium)) in (3..).zip(VALUED) {
        sheet.write_string(row, 0, number)?;
        sheet.write_string(row, 1, object)?;
        match day.day() {
            // What it could not read, the program left as text.
            13.. => sheet.write_string(row, 2, day.strftime("%d/%m/%Y").to_string())?,
            month => {
                let read =
                    ExcelDateTime::from_ymd(day.year() as u16, month as u8, day.month() as u8)?;
                sheet.write_datetime_with_format(row, 2, read, &shown)?
            }
        };
        sheet.write_number(row, 3, premium)?;
    }
    let path = Path::new(env!("CARGO_MANIFEST_DIR")).join("../../demo/insurance.xlsx");
    book.save(path)
}
