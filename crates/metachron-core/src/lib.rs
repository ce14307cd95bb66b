//! core
pub mod convert;
pub mod evidence;
pub mod form;
pub mod lex;
pub mod locale;
pub mod outlook;
pub mod reading;
pub mod rulings;
pub mod settle;
pub mod stamp;
pub mod verdict;
