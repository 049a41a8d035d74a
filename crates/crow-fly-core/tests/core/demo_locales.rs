//! What the locales of the demo write: the same with all of CLDR's data and with that of their languages alone.

use crow_fly_core::args;
use crow_fly_core::message::{FormatContext, Message, Program};
use crow_fly_core::names::{Casing, own_name};
use crow_fly_core::tag::LanguageTag;

pub(crate) const LOCALES: [&str; 5] = ["en", "en-GB", "cy", "pl", "ar"];

const MESSAGES: [&str; 17] = [
    "{$large :number}",
    "{$part :percent}",
    "{$fare :currency currency=EUR}",
    "{$fare :currency currency=GBP currencyDisplay=name}",
    "{3 :unit unit=kilometer unitDisplay=long}",
    "{$moment :datetime}",
    "{$moment :date length=long}",
    "{$moment :date fields=year-month-day-weekday length=long}",
    "{$moment :time precision=second}",
    ".input {$n :integer} .match $n zero {{zero}} one {{one}} two {{two}} few {{few}} many {{many}} * {{other}}",
    ".input {$n :integer select=ordinal} .match $n one {{one}} two {{two}} few {{few}} many {{many}} * {{other}}",
    "{$large :crow:compact}",
    "{$large :crow:compact width=long}",
    "{$boats :crow:list}",
    "{$boats :crow:list type=or}",
    "{-3 :crow:relative unit=day}",
    "{$n :crow:range to=$large}",
];

/// Everything that a locale writes, a line each.
pub(crate) fn written(tag: &LanguageTag) -> Vec<String> {
    let boats = ["Avocet", "Curlew", "Sandpiper"].map(str::to_owned).to_vec();
    let moment = jiff::civil::date(2026, 7, 9).at(17, 5, 0, 0);
    let args = args! { n: 3, large: 1_234_567, part: 0.125, fare: 1234.5, boats: boats, moment: moment };
    let context = FormatContext::of(tag);
    MESSAGES
        .into_iter()
        .map(|source| {
            let message = Message::parse(source).unwrap();
            let program = Program::compile(&message);
            let output = program.format(&context, &args);
            output.text()
        })
        .chain([own_name(tag, Casing::Menu)])
        .collect()
}

#[allow(clippy::too_many_lines, reason = "what five locales write")]
pub(crate) fn check() {
    let written: Vec<String> = LOCALES
        .into_iter()
        .map(|tag| format!("{tag}\n  {}", written(&tag.parse().unwrap()).join("\n  ")))
        .collect();
    let shown: String = written.join("\n").chars().map(shown).collect();
    insta::assert_snapshot!(shown, @"
    en
      1,234,567
      13%
      €1,234.50
      1,234.50 British pounds
      3 kilometers
      Jul 9, 2026, 5:05_PM
      July 9, 2026
      Thursday, July 9, 2026
      5:05:00_PM
      other
      few
      1.2M
      1.2 million
      <Avocet>, <Curlew>, and <Sandpiper>
      <Avocet>, <Curlew>, or <Sandpiper>
      3 days ago
      3–1,234,567
      English
    en-GB
      1,234,567
      13%
      €1,234.50
      1,234.50 British pounds
      3 kilometres
      9 Jul 2026, 17:05
      9 July 2026
      Thursday, 9 July 2026
      17:05:00
      other
      few
      1.2m
      1.2 million
      <Avocet>, <Curlew> and <Sandpiper>
      <Avocet>, <Curlew> or <Sandpiper>
      3 days ago
      3–1,234,567
      British English
    cy
      1,234,567
      13%
      €1,234.50
      1,234.50 punt Prydain
      3 km
      9 Gorff 2026, 17:05
      9 Gorffennaf 2026
      Dydd Iau, 9 Gorffennaf 2026
      17:05:00
      few
      few
      1.2M
      1.2 miliwn
      <Avocet>, <Curlew>, a(c) <Sandpiper>
      <Avocet>, <Curlew> neu <Sandpiper>
      3 diwrnod yn ôl
      3–1,234,567
      Cymraeg
    pl
      1_234_567
      13%
      1234,50_€
      1234,50 funta szterlinga
      3 kilometry
      9 lip 2026, 17:05
      9 lipca 2026
      czwartek, 9 lipca 2026
      17:05:00
      few
      other
      1,2_mln
      1,2 miliona
      <Avocet>, <Curlew> i <Sandpiper>
      <Avocet>, <Curlew> lub <Sandpiper>
      3 dni temu
      3–1_234_567
      polski
    ar
      <1,234,567>
      <13|%|>
      <|1,234.50_€>
      <1,234.50 جنيه إسترليني>
      <3 كيلومترات>
      <09|/07|/2026، 5:05 م>
      <9 يوليو 2026>
      <الخميس، 9 يوليو 2026>
      <5:05:00 م>
      few
      other
      <1.2_مليون>
      <1.2 مليون>
      <<Avocet> و<Curlew> و<Sandpiper>>
      <<Avocet> أو <Curlew> أو <Sandpiper>>
      <قبل 3 أيام>
      <3–1,234,567>
      العربية
    ");
}

/// Marks of direction and spaces that look like others, so that they are seen.
fn shown(letter: char) -> char {
    match letter {
        '\u{2066}'..='\u{2068}' => '<',
        '\u{2069}' => '>',
        '\u{200e}' | '\u{200f}' | '\u{61c}' => '|',
        '\u{a0}' | '\u{202f}' => '_',
        letter => letter,
    }
}
