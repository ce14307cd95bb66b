//! Cells of Arrow arrays as text, and what they are.

use crate::counts::{OUT_OF_RANGE, day, instant, interval, local, time_of_day};
use crate::{CellType, ColumnType, Precision};
use arrow_array::cast::AsArray;
use arrow_array::types::*;
use arrow_array::{Array, ArrayRef, RecordBatch};
use arrow_schema::{DataType, Field, Fields, IntervalUnit, Schema, TimeUnit};
use jiff::Timestamp;
use metachron_core::stamp::{Duration, Stamp};
use std::fmt::Write;

/// A column of a batch, which writes the text of a cell and says what it is. A cell that
/// holds nothing has no text.
pub(super) struct ColumnOfCells {
    array: ArrayRef,
    /// Which value each row has, where values that repeat stand in a dictionary.
    keys: Option<(ArrayRef, Vec<usize>)>,
    /// The structs that it stands in, which may hold nothing themselves.
    within: Vec<ArrayRef>,
    put: fn(&dyn Array, usize, &mut String) -> CellType,
}

/// The names of the columns: those within structs behind the names of these and a dot.
/// The name of one that no cell can hold otherwise.
pub(super) fn names(schema: &Schema) -> Result<Vec<String>, String> {
    let mut names = Vec::new();
    add_names("", schema.fields(), &mut names)?;
    Ok(names)
}

/// Structs within structs further down than this are no table.
const DEEPEST: usize = 64;

fn add_names(before: &str, fields: &Fields, names: &mut Vec<String>) -> Result<(), String> {
    for field in fields {
        let name = format!("{before}{}", field.name());
        match field.data_type() {
            DataType::Struct(fields) if name.matches('.').count() < DEEPEST => {
                add_names(&format!("{name}."), fields, names)?;
            }
            of if writer(of).is_some() => names.push(name),
            _ => return Err(name),
        }
    }
    Ok(())
}

/// The types of the columns, in the order of their names.
pub(super) fn types(schema: &Schema) -> Vec<ColumnType> {
    let mut types = Vec::new();
    add_types(schema.fields(), &mut types);
    types
}

fn add_types(fields: &Fields, types: &mut Vec<ColumnType>) {
    for field in fields {
        match field.data_type() {
            DataType::Struct(fields) => add_types(fields, types),
            of => types.push(column_type(of)),
        }
    }
}

/// The type that holds what cells of a column of this Arrow type hold.
fn column_type(of: &DataType) -> ColumnType {
    use DataType as T;
    let precision = |unit: &TimeUnit| match unit {
        TimeUnit::Nanosecond => Precision::Nanos,
        _ => Precision::Micros,
    };
    match of {
        T::Boolean => ColumnType::Boolean,
        T::Int8 | T::Int16 | T::Int32 | T::Int64 | T::UInt8 | T::UInt16 | T::UInt32 => {
            ColumnType::Integer
        }
        T::UInt64 => ColumnType::Decimal(0),
        T::Float16 | T::Float32 | T::Float64 => ColumnType::Float,
        T::Decimal32(_, scale) | T::Decimal64(_, scale) | T::Decimal128(_, scale) => {
            u8::try_from(*scale).map_or(ColumnType::Text, ColumnType::Decimal)
        }
        T::Date32 | T::Date64 => ColumnType::Date,
        T::Time32(unit) | T::Time64(unit) => ColumnType::Time(precision(unit)),
        T::Timestamp(unit, None) => ColumnType::DateTime(precision(unit)),
        T::Timestamp(unit, Some(_)) => ColumnType::Instant(precision(unit)),
        T::Duration(unit) => ColumnType::Duration(precision(unit)),
        T::Dictionary(_, values) => column_type(values),
        _ => ColumnType::Text,
    }
}

impl ColumnOfCells {
    /// The columns of a batch, in the order of their names.
    pub(super) fn all(batch: &RecordBatch) -> Vec<ColumnOfCells> {
        let mut columns = Vec::new();
        let schema = batch.schema();
        for (field, array) in schema.fields().iter().zip(batch.columns()) {
            add_columns(field, array, &mut Vec::new(), &mut columns);
        }
        columns
    }

    /// Writes the text of a cell over `text`, and says what it is.
    #[inline]
    pub(super) fn put(&self, row: usize, text: &mut String) -> CellType {
        text.clear();
        if self.within.iter().any(|whole| whole.is_null(row)) {
            return CellType::Empty;
        }
        let row = match &self.keys {
            Some((keys, _)) if keys.is_null(row) => return CellType::Empty,
            Some((_, indexes)) => indexes[row],
            None => row,
        };
        if self.array.is_null(row) {
            return CellType::Empty;
        }
        (self.put)(&*self.array, row, text)
    }
}

fn add_columns(
    field: &Field,
    array: &ArrayRef,
    within: &mut Vec<ArrayRef>,
    columns: &mut Vec<ColumnOfCells>,
) {
    if let DataType::Struct(fields) = field.data_type() {
        within.push(array.clone());
        for (field, array) in fields.iter().zip(array.as_struct().columns()) {
            add_columns(field, array, within, columns);
        }
        within.pop();
    } else if let Some(put) = writer(field.data_type()) {
        let dictionary = array.as_any_dictionary_opt();
        columns.push(ColumnOfCells {
            array: dictionary
                .map_or(array, |dictionary| dictionary.values())
                .clone(),
            keys: dictionary.map(|dictionary| (array.clone(), dictionary.normalized_keys())),
            within: within.clone(),
            put,
        });
    }
}

type Put = fn(&dyn Array, usize, &mut String) -> CellType;

/// What writes cells of a column of this type; `None` where they are no single values.
fn writer(of: &DataType) -> Option<Put> {
    use DataType as T;
    Some(match of {
        T::Null => |_, _, _| CellType::Empty,
        T::Boolean => |array, row, text| {
            text.push_str(if array.as_boolean().value(row) {
                "TRUE"
            } else {
                "FALSE"
            });
            CellType::Boolean
        },
        T::Int8 => number::<Int8Type>,
        T::Int16 => number::<Int16Type>,
        T::Int32 => number::<Int32Type>,
        T::Int64 => number::<Int64Type>,
        T::UInt8 => number::<UInt8Type>,
        T::UInt16 => number::<UInt16Type>,
        T::UInt32 => number::<UInt32Type>,
        T::UInt64 => number::<UInt64Type>,
        T::Float16 => number::<Float16Type>,
        T::Float32 => number::<Float32Type>,
        T::Float64 => number::<Float64Type>,
        T::Decimal32(..) => decimal::<Decimal32Type>,
        T::Decimal64(..) => decimal::<Decimal64Type>,
        T::Decimal128(..) => decimal::<Decimal128Type>,
        T::Decimal256(..) => decimal::<Decimal256Type>,
        T::Utf8 => |array, row, text| text_cell(array.as_string::<i32>().value(row), text),
        T::LargeUtf8 => |array, row, text| text_cell(array.as_string::<i64>().value(row), text),
        T::Utf8View => |array, row, text| text_cell(array.as_string_view().value(row), text),
        T::Binary => |array, row, text| bytes_cell(array.as_binary::<i32>().value(row), text),
        T::LargeBinary => |array, row, text| bytes_cell(array.as_binary::<i64>().value(row), text),
        T::BinaryView => |array, row, text| bytes_cell(array.as_binary_view().value(row), text),
        T::FixedSizeBinary(_) => {
            |array, row, text| bytes_cell(array.as_fixed_size_binary().value(row), text)
        }
        T::Date32 => |array, row, text| {
            let days = array.as_primitive::<Date32Type>().value(row);
            stamp(day(days.into()).map(Stamp::Date), days, text)
        },
        T::Date64 => |array, row, text| {
            let millis = array.as_primitive::<Date64Type>().value(row);
            let whole = (millis % 86_400_000 == 0).then_some(millis / 86_400_000);
            stamp(whole.and_then(day).map(Stamp::Date), millis, text)
        },
        T::Time32(TimeUnit::Second) => time::<Time32SecondType>,
        T::Time32(_) => time::<Time32MillisecondType>,
        T::Time64(TimeUnit::Microsecond) => time::<Time64MicrosecondType>,
        T::Time64(_) => time::<Time64NanosecondType>,
        T::Timestamp(TimeUnit::Second, zone) => moment::<TimestampSecondType>(zone.is_some()),
        T::Timestamp(TimeUnit::Millisecond, zone) => {
            moment::<TimestampMillisecondType>(zone.is_some())
        }
        T::Timestamp(TimeUnit::Microsecond, zone) => {
            moment::<TimestampMicrosecondType>(zone.is_some())
        }
        T::Timestamp(TimeUnit::Nanosecond, zone) => {
            moment::<TimestampNanosecondType>(zone.is_some())
        }
        T::Duration(TimeUnit::Second) => length::<DurationSecondType>,
        T::Duration(TimeUnit::Millisecond) => length::<DurationMillisecondType>,
        T::Duration(TimeUnit::Microsecond) => length::<DurationMicrosecondType>,
        T::Duration(TimeUnit::Nanosecond) => length::<DurationNanosecondType>,
        T::Interval(IntervalUnit::YearMonth) => |array, row, text| {
            let months = array.as_primitive::<IntervalYearMonthType>().value(row);
            stamp(
                Some(Stamp::Duration(Duration::new(months.into(), 0))),
                months,
                text,
            )
        },
        T::Interval(IntervalUnit::DayTime) => |array, row, text| {
            let span = array.as_primitive::<IntervalDayTimeType>().value(row);
            let nanos = i128::from(span.milliseconds) * 1_000_000;
            cell_of(interval(0, span.days, nanos, text), text)
        },
        T::Interval(IntervalUnit::MonthDayNano) => |array, row, text| {
            let span = array.as_primitive::<IntervalMonthDayNanoType>().value(row);
            let nanos = span.nanoseconds.into();
            cell_of(interval(span.months, span.days, nanos, text), text)
        },
        // Of a dictionary, its values.
        T::Dictionary(_, values) if !matches!(**values, T::Dictionary(..)) => writer(values)?,
        T::Dictionary(..)
        | T::RunEndEncoded(..)
        | T::List(_)
        | T::ListView(_)
        | T::FixedSizeList(..)
        | T::LargeList(_)
        | T::LargeListView(_)
        | T::Struct(_)
        | T::Union(..)
        | T::Map(..) => return None,
    })
}

fn text_cell(own: &str, text: &mut String) -> CellType {
    text.push_str(own);
    CellType::Text
}

/// Bytes that are UTF-8 are text; others are written in hexadecimal digits.
fn bytes_cell(own: &[u8], text: &mut String) -> CellType {
    match std::str::from_utf8(own) {
        Ok(own) => text.push_str(own),
        Err(_) => own
            .iter()
            .for_each(|byte| put(text, format_args!("{byte:02x}"))),
    }
    CellType::Text
}

fn put(text: &mut String, what: std::fmt::Arguments<'_>) {
    // Writing to a string does not fail.
    let _ = text.write_fmt(what);
}

fn number<T: ArrowPrimitiveType>(array: &dyn Array, row: usize, text: &mut String) -> CellType
where
    T::Native: std::fmt::Display,
{
    put(
        text,
        format_args!("{}", array.as_primitive::<T>().value(row)),
    );
    // Not what is infinite or no number.
    if text.bytes().any(|byte| byte.is_ascii_digit()) {
        CellType::Number
    } else {
        CellType::Text
    }
}

fn decimal<T: DecimalType>(array: &dyn Array, row: usize, text: &mut String) -> CellType {
    text.push_str(&array.as_primitive::<T>().value_as_string(row));
    CellType::Number
}

/// A stamp; where there is none, `text` has the text that stands for it.
fn cell_of(stamp: Option<Stamp>, text: &mut String) -> CellType {
    match stamp {
        Some(stamp) => {
            stamp.push_iso(text);
            CellType::Stamp(stamp)
        }
        None => CellType::Text,
    }
}

/// A stamp; where it is beyond our range, the count that stands for it. That is no number:
/// microseconds would be read as nanoseconds of our time.
fn stamp(stamp: Option<Stamp>, count: impl std::fmt::Display, text: &mut String) -> CellType {
    match stamp {
        Some(stamp) => {
            stamp.push_iso(text);
            CellType::Stamp(stamp)
        }
        None => {
            put(text, format_args!("{OUT_OF_RANGE}{count}"));
            CellType::Error
        }
    }
}

/// How many nanoseconds the counts of a type are in.
trait Unit {
    const NANOS: i128;
}

macro_rules! units {
    ($($of:ty => $nanos:expr,)*) => { $(impl Unit for $of { const NANOS: i128 = $nanos; })* };
}

units! {
    Time32SecondType => 1_000_000_000,
    Time32MillisecondType => 1_000_000,
    Time64MicrosecondType => 1000,
    Time64NanosecondType => 1,
    TimestampSecondType => 1_000_000_000,
    TimestampMillisecondType => 1_000_000,
    TimestampMicrosecondType => 1000,
    TimestampNanosecondType => 1,
    DurationSecondType => 1_000_000_000,
    DurationMillisecondType => 1_000_000,
    DurationMicrosecondType => 1000,
    DurationNanosecondType => 1,
}

fn time<T: ArrowPrimitiveType + Unit>(array: &dyn Array, row: usize, text: &mut String) -> CellType
where
    T::Native: Into<i64>,
{
    let count = array.as_primitive::<T>().value(row).into();
    let time = time_of_day(i128::from(count) * T::NANOS);
    stamp(time.map(Stamp::Time), count, text)
}

/// Of instants, which have a zone, or of local times.
fn moment<T>(has_zone: bool) -> Put
where
    T: ArrowPrimitiveType<Native = i64> + Unit,
{
    fn at<T: ArrowPrimitiveType<Native = i64> + Unit>(
        array: &dyn Array,
        row: usize,
    ) -> (i64, Option<Timestamp>) {
        let count = array.as_primitive::<T>().value(row);
        (count, instant(i128::from(count) * T::NANOS))
    }
    if has_zone {
        |array, row, text| {
            let (count, at) = at::<T>(array, row);
            stamp(at.map(Stamp::Instant), count, text)
        }
    } else {
        |array, row, text| {
            let count = array.as_primitive::<T>().value(row);
            let nanos = i128::from(count) * T::NANOS;
            stamp(local(nanos).map(Stamp::DateTime), count, text)
        }
    }
}

fn length<T>(array: &dyn Array, row: usize, text: &mut String) -> CellType
where
    T: ArrowPrimitiveType<Native = i64> + Unit,
{
    let count = array.as_primitive::<T>().value(row);
    let length = Duration::new(0, i128::from(count) * T::NANOS);
    stamp(Some(Stamp::Duration(length)), count, text)
}
