//! PostgreSQL: connecting, and reading what a table or a query holds.

use super::{DatabaseAddress, PostgresServer, quoted};
use crate::counts::{DAY, OUT_OF_RANGE, day, instant, interval, local, time_of_day};
use crate::csv::{Layout, MOST_COLUMNS};
use crate::spool::{Spool, SpoolWriter};
use crate::{CellType, ColumnType, Header, Precision, TableError};
use metachron_core::stamp::{Kind, Stamp};
use postgres::fallible_iterator::FallibleIterator;
use postgres::types::{FromSql, Type};
use postgres::{Client, Config, NoTls};
use std::fmt::Write;
use std::io;
use std::path::PathBuf;
use std::time::Duration;

/// A server that does not answer is given up after this time.
const PATIENCE: Duration = Duration::from_secs(15);

/// What a session reads and writes text by, whatever the server is set to.
pub(crate) const SETTINGS: &str = "SET client_encoding = 'UTF8'; SET standard_conforming_strings = on; \
     SET datestyle = 'ISO, YMD'; SET intervalstyle = 'iso_8601'; SET timezone = 'UTC'; \
     SET extra_float_digits = 1;";

/// Connects to the server.
pub(crate) fn connect(server: &PostgresServer) -> Result<Client, postgres::Error> {
    let of_environment = |name: &str| std::env::var(name).ok().filter(|value| !value.is_empty());
    let host = server.host.clone().or_else(|| of_environment("PGHOST"));
    let host = host.unwrap_or_else(|| "localhost".to_owned());
    let port = server
        .port
        .or_else(|| of_environment("PGPORT")?.parse().ok());
    let port = port.unwrap_or(5432);
    let user = server.user.clone().or_else(|| of_environment("PGUSER"));
    let user = user
        .or_else(|| of_environment("USER"))
        .unwrap_or_else(|| "postgres".to_owned());
    let database = server
        .database
        .clone()
        .or_else(|| of_environment("PGDATABASE"));
    let database = database.unwrap_or_else(|| user.clone());
    let password = server
        .password
        .clone()
        .or_else(|| of_environment("PGPASSWORD"));
    let password =
        password.or_else(|| of_password_file([&host, &port.to_string(), &database, &user]));
    let mut config = Config::new();
    config
        .host(&host)
        .port(port)
        .user(&user)
        .dbname(&database)
        .application_name("metachron")
        .connect_timeout(PATIENCE);
    if let Some(password) = password {
        config.password(password);
    }
    let mut client = config.connect(NoTls)?;
    client.batch_execute(SETTINGS)?;
    Ok(client)
}

/// The password that the file of passwords has (PostgreSQL's documentation, §34.16).
fn of_password_file(wanted: [&str; 4]) -> Option<String> {
    let path = match std::env::var_os("PGPASSFILE") {
        Some(path) => PathBuf::from(path),
        None => PathBuf::from(std::env::var_os("HOME")?).join(".pgpass"),
    };
    // As PostgreSQL's programs do, passwords that others can read are left alone.
    #[cfg(unix)]
    {
        use std::os::unix::fs::PermissionsExt;
        let mode = std::fs::metadata(&path).ok()?.permissions().mode();
        if mode & 0o077 != 0 {
            return None;
        }
    }
    let text = std::fs::read_to_string(path).ok()?;
    text.lines().find_map(|line| password_of(line, wanted))
}

/// The password of a line, if that is for what is wanted: `host:port:database:user:password`,
/// with `*` for any, and `\` before a colon or itself.
fn password_of(line: &str, wanted: [&str; 4]) -> Option<String> {
    let mut fields = vec![String::new()];
    let mut signs = line.chars();
    while let Some(sign) = signs.next() {
        match sign {
            '\\' => fields.last_mut()?.extend(signs.next()),
            ':' if fields.len() < 5 => fields.push(String::new()),
            _ => fields.last_mut()?.push(sign),
        }
    }
    let password = fields.get(4)?.clone();
    let is_for = |(field, wanted): (&String, &str)| field == "*" || field == wanted;
    fields.iter().zip(wanted).all(is_for).then_some(password)
}

/// A message of PostgreSQL's, with what stands behind it.
pub(crate) fn message(error: &postgres::Error) -> String {
    match error.as_db_error() {
        Some(said) => {
            let more = [said.detail(), said.hint()].into_iter().flatten();
            let more: Vec<String> = more.map(|text| format!(" ({text})")).collect();
            format!("{}{}", said.message(), more.concat())
        }
        None => {
            let mut text = error.to_string();
            let mut cause = std::error::Error::source(error);
            while let Some(why) = cause {
                let more = why.to_string();
                if !text.contains(&more) {
                    text = format!("{text}: {more}");
                }
                cause = why.source();
            }
            text
        }
    }
}

/// Why a table cannot be read.
#[derive(Debug, thiserror::Error)]
enum Fault {
    #[error("{}", message(.0))]
    Postgres(#[from] postgres::Error),
    #[error(transparent)]
    Io(#[from] io::Error),
    #[error("name a table with ?table=NAME, or a query with ?query=SELECT…")]
    Nothing,
    #[error("the query gives {0} columns; a table has at most {MOST_COLUMNS}")]
    TooManyColumns(usize),
}

/// Reads all rows, as they are at one moment.
pub(crate) fn read(
    address: &DatabaseAddress,
    server: &PostgresServer,
) -> Result<(Spool, Layout), TableError> {
    read_rows(address, server).map_err(|fault| TableError::Database {
        database: address.shown().to_owned(),
        cause: fault.to_string(),
    })
}

fn read_rows(address: &DatabaseAddress, server: &PostgresServer) -> Result<(Spool, Layout), Fault> {
    let query = match (&address.table, &address.query) {
        (Some(table), _) => format!("SELECT * FROM {}", qualified(server, table)),
        (None, Some(query)) => query.trim().trim_end_matches(';').to_owned(),
        (None, None) => return Err(Fault::Nothing),
    };
    let mut client = connect(server)?;
    // What a query changes is not kept: only reading is allowed.
    let mut transaction = client.build_transaction().read_only(true).start()?;
    let statement = transaction.prepare(&query)?;
    let columns = statement.columns();
    if columns.len() > MOST_COLUMNS {
        return Err(Fault::TooManyColumns(columns.len()));
    }
    let names: Vec<String> = columns
        .iter()
        .map(|column| column.name().to_owned())
        .collect();
    let kinds: Vec<ServerType> = columns
        .iter()
        .map(|column| ServerType::of(column.type_()))
        .collect();
    // Two columns of a query may have one name. What has no type here comes as text.
    let indexes = 0..names.len();
    let aliases: Vec<String> = indexes.map(|index| format!("c{index}")).collect();
    let wanted = aliases.iter().zip(&kinds).map(|(alias, of)| match of {
        ServerType::Decimal | ServerType::Text => format!("{alias}::text"),
        _ => alias.clone(),
    });
    let wanted: Vec<String> = wanted.collect();
    let query = format!(
        "SELECT {} FROM ({query}) AS rows ({})",
        wanted.join(", "),
        aliases.join(", ")
    );
    let mut spool = SpoolWriter::of_rows_that_stay()?;
    let nothing: [&str; 0] = [];
    let mut rows = transaction.query_raw(&query, nothing)?;
    let (mut text, mut number) = (String::new(), 0);
    while let Some(row) = rows.next()? {
        for (column, of) in kinds.iter().enumerate() {
            let Some(Raw(value)) = row.try_get::<_, Option<Raw<'_>>>(column)? else {
                continue;
            };
            text.clear();
            let of = of.put(value, &mut text);
            if !text.is_empty() {
                spool.cell((number, column as u32), &text, of)?;
            }
        }
        number += 1;
        spool.end_rows_before(number)?;
    }
    let layout = Layout {
        types: kinds.iter().map(ServerType::column_type).collect(),
        ..Layout::of_schema(Header::of_schema(&names))
    };
    Ok((spool.finish(names.len())?, layout))
}

/// The name of a table, with its schema if one is given.
pub(crate) fn qualified(server: &PostgresServer, table: &str) -> String {
    match &server.schema {
        Some(schema) => format!("{}.{}", quoted(schema), quoted(table)),
        None => quoted(table),
    }
}

/// A value as the server sends it (PostgreSQL's source, `src/backend/utils/adt`, the functions
/// `…_send`): numbers have their highest byte first.
struct Raw<'r>(&'r [u8]);

impl<'r> FromSql<'r> for Raw<'r> {
    fn from_sql(
        _of: &Type,
        raw: &'r [u8],
    ) -> Result<Raw<'r>, Box<dyn std::error::Error + Sync + Send>> {
        Ok(Raw(raw))
    }

    fn accepts(_of: &Type) -> bool {
        true
    }
}

/// What the cells of a column are.
#[derive(Clone, Copy, Debug)]
enum ServerType {
    Integer,
    Float,
    /// A decimal number, by its text.
    Decimal,
    Boolean,
    Stamps(Kind),
    Text,
}

/// Days from 1970-01-01 to 2000-01-01, which PostgreSQL counts from.
const FIRST_DAY: i64 = 10_957;

impl ServerType {
    fn of(of: &Type) -> ServerType {
        match *of {
            Type::BOOL => ServerType::Boolean,
            Type::INT2 | Type::INT4 | Type::INT8 => ServerType::Integer,
            Type::FLOAT4 | Type::FLOAT8 => ServerType::Float,
            Type::NUMERIC => ServerType::Decimal,
            Type::DATE => ServerType::Stamps(Kind::Date),
            Type::TIME => ServerType::Stamps(Kind::Time),
            Type::TIMESTAMP => ServerType::Stamps(Kind::DateTime),
            Type::TIMESTAMPTZ => ServerType::Stamps(Kind::Instant),
            Type::INTERVAL => ServerType::Stamps(Kind::Duration),
            _ => ServerType::Text,
        }
    }

    fn column_type(&self) -> ColumnType {
        match self {
            ServerType::Integer => ColumnType::Integer,
            ServerType::Float => ColumnType::Float,
            // How many decimals it has, each number says by itself.
            ServerType::Decimal => ColumnType::Decimal(0),
            ServerType::Boolean => ColumnType::Boolean,
            ServerType::Text => ColumnType::Text,
            ServerType::Stamps(Kind::Date) => ColumnType::Date,
            ServerType::Stamps(Kind::Time) => ColumnType::Time(Precision::Micros),
            ServerType::Stamps(Kind::DateTime) => ColumnType::DateTime(Precision::Micros),
            ServerType::Stamps(Kind::Instant) => ColumnType::Instant(Precision::Micros),
            ServerType::Stamps(_) => ColumnType::Duration(Precision::Micros),
        }
    }

    /// Appends the text that stands for a value, and says what it is.
    fn put(self, value: &[u8], text: &mut String) -> CellType {
        // Writing to a string does not fail.
        match (self, value.len()) {
            (ServerType::Boolean, _) => {
                text.push_str(if value == [0] { "FALSE" } else { "TRUE" });
                return CellType::Boolean;
            }
            (ServerType::Integer, _) => {
                let _ = write!(text, "{}", signed(value));
            }
            (ServerType::Float, 4) => {
                let _ = write!(text, "{}", f32::from_bits(signed(value) as u32));
            }
            (ServerType::Float, _) => {
                let _ = write!(text, "{}", f64::from_bits(signed(value) as u64));
            }
            (ServerType::Decimal | ServerType::Text, _) => {
                text.push_str(&String::from_utf8_lossy(value))
            }
            (ServerType::Stamps(kind), _) => return put_stamp(kind, value, text),
        }
        // Not what is infinite or no number.
        let is_number =
            !matches!(self, ServerType::Text) && text.bytes().any(|byte| byte.is_ascii_digit());
        if is_number {
            CellType::Number
        } else {
            CellType::Text
        }
    }
}

/// The number that up to eight bytes are.
fn signed(bytes: &[u8]) -> i64 {
    let first = bytes
        .first()
        .map_or(0, |first| i64::from(first.cast_signed() >> 7));
    let number = bytes.iter().take(8);
    number.fold(first, |number, byte| (number << 8) | i64::from(*byte))
}

/// Appends a stamp; of one beyond our range, the count that stands for it (no number, which
/// could be read as another count), and of an infinite one its name.
fn put_stamp(kind: Kind, value: &[u8], text: &mut String) -> CellType {
    let count = signed(value);
    let (first, last) = if value.len() == 4 {
        (i64::from(i32::MIN), i64::from(i32::MAX))
    } else {
        (i64::MIN, i64::MAX)
    };
    if count == last {
        text.push_str("infinity");
    } else if count == first {
        text.push_str("-infinity");
    }
    if !text.is_empty() {
        return CellType::Text;
    }
    let nanos = i128::from(count) * 1000;
    let since_1970 = nanos + i128::from(FIRST_DAY) * DAY;
    let stamp = match kind {
        Kind::Date => day(count + FIRST_DAY).map(Stamp::Date),
        Kind::Time => time_of_day(nanos).map(Stamp::Time),
        Kind::DateTime => local(since_1970).map(Stamp::DateTime),
        Kind::Instant => instant(since_1970).map(Stamp::Instant),
        _ => {
            let part = |at: usize| value.get(at..at + 4).map_or(0, |part| signed(part) as i32);
            interval(part(12), part(8), nanos, text)
        }
    };
    match stamp {
        Some(stamp) => {
            stamp.push_iso(text);
            CellType::Stamp(stamp)
        }
        None if text.is_empty() => {
            let _ = write!(text, "{OUT_OF_RANGE}{count}");
            CellType::Error
        }
        None => CellType::Text,
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn lines_of_the_password_file() {
        let wanted = ["db.example", "5432", "loans", "ann"];
        for (line, password) in [
            ("db.example:5432:loans:ann:secret", Some("secret")),
            ("*:*:*:ann:se:cret", Some("se:cret")),
            ("*:*:*:ann:se\\:c\\\\ret", Some("se:c\\ret")),
            ("*:*:*:bob:secret", None),
            ("# a remark", None),
            ("", None),
        ] {
            assert_eq!(password_of(line, wanted).as_deref(), password, "{line}");
        }
    }

    #[test]
    fn stamps_as_postgresql_sends_them() {
        let long = |number: i64| number.to_be_bytes().to_vec();
        let short = |number: i32| number.to_be_bytes().to_vec();
        let span = |micros, days, months| [long(micros), short(days), short(months)].concat();
        for (kind, value, expected) in [
            (Kind::Date, short(0), "2000-01-01"),
            (Kind::Date, short(-10_958), "1969-12-31"),
            (Kind::Date, short(i32::MAX), "infinity"),
            (Kind::Date, short(10_000_000), "out of range: 10000000"),
            (Kind::Time, long(1_500_000), "00:00:01.5"),
            (
                Kind::Time,
                long(86_400_000_000),
                "out of range: 86400000000",
            ),
            (Kind::DateTime, long(-1), "1999-12-31T23:59:59.999999"),
            (Kind::Instant, long(60_000_000), "2000-01-01T00:01:00Z"),
            (Kind::Instant, long(i64::MIN), "-infinity"),
            (Kind::Duration, span(-500_000, 0, 0), "-PT0.5S"),
            (Kind::Duration, span(3_600_000_000, 1, 14), "P1Y2M1DT1H"),
            (Kind::Duration, span(1, -1, 0), "0 months -1 days 1000 ns"),
        ] {
            let mut text = String::new();
            put_stamp(kind, &value, &mut text);
            assert_eq!(text, expected, "{value:?}");
        }
        assert_eq!(signed(&[0xff, 0xfe]), -2);
    }
}
