//! Functions that differ in little: one body for those of numbers, and one for those of dates and times.

/// A function of numbers whose digits can be chosen, and which selects by the number.
macro_rules! number_function {
    ($type:ident, $name:literal, $kind:expr, $set:expr, $resolve:expr) => {
        pub(in crate::message) struct $type;

        impl super::definition::Function for $type {
            const NAME: &'static str = $name;
            const OPTIONS: &'static [&'static str] = &["select"];
            const SHARED_OPTIONS: &'static [&'static str] = super::numeric::DIGIT_OPTIONS;
            const OPERAND: super::definition::ParameterKind = super::definition::ParameterKind::Number;
            const SELECTS: super::definition::Selects = super::definition::Selects::Number;
            type Options = super::numeric::NumberOptions;
            const NO_OPTIONS: Self::Options = super::numeric::NumberOptions::of($kind);

            fn set(
                options: &mut Self::Options,
                name: &str,
                value: &str,
            ) -> Result<(), super::option::BadOption> {
                options.set_select_or_digits(name, value)?;
                let set: fn(&mut Self::Options) = $set;
                set(options);
                Ok(())
            }

            fn takes_variable(options: &mut Self::Options, name: &str) -> bool {
                options.take_variable(name)
            }

            fn resolve<'a>(
                call: super::definition::Call<'_, 'a>,
                options: crate::message::maybe_owned::MaybeOwned<'a, Self::Options>,
            ) -> Result<super::resolved::ResolvedValue<'a>, crate::message::format_error::Refusal> {
                $resolve(call.operand, options)
            }
        }
    };
}
pub(super) use number_function;

/// A function of dates and times: each of its own options with what sets it.
macro_rules! date_function {
    ($type:ident, $name:literal, $kind:expr, $($option:literal => $set:ident),+) => {
        pub(in crate::message) struct $type;

        impl super::definition::Function for $type {
            const NAME: &'static str = $name;
            const OPTIONS: &'static [&'static str] = &[$($option),+];
            const SHARED_OPTIONS: &'static [&'static str] = super::temporal::ZONE_OPTIONS;
            const OPERAND: super::definition::ParameterKind = super::definition::ParameterKind::Date;
            type Options = super::temporal::DateOptions;
            const NO_OPTIONS: Self::Options = super::temporal::DateOptions::DEFAULT;

            fn set(
                options: &mut Self::Options,
                name: &str,
                value: &str,
            ) -> Result<(), super::option::BadOption> {
                match name {
                    $($option => options.$set(value),)+
                    _ => options.set_zone(name, value),
                }
            }

            fn resolve<'a>(
                call: super::definition::Call<'_, 'a>,
                options: crate::message::maybe_owned::MaybeOwned<'a, Self::Options>,
            ) -> Result<super::resolved::ResolvedValue<'a>, crate::message::format_error::Refusal> {
                call.operand.with_date_options($kind, options)
            }
        }
    };
}
pub(super) use date_function;
