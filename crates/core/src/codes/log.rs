//! Codes of logs.

codes! {
    /// What parts the fields of a line.
    pub enum LogDelimiter {
        /// `,`
        Comma = "comma",
        /// `;`
        Semicolon = "semicolon",
        /// A tabulator.
        Tab = "tab",
        /// `|`
        Bar = "bar",
        /// One or more blanks.
        Blanks = "blanks",
    }

    /// What stands before the fraction of a number.
    pub enum LogDecimal {
        /// `3.7`
        Point = "point",
        /// `3,7`
        Comma = "comma",
    }

    /// How the time is written.
    pub enum LogTime {
        /// Since the log began, s.
        Seconds = "seconds",
        /// Since the log began, min.
        Minutes = "minutes",
        /// Since the log began, h.
        Hours = "hours",
        /// Since the log began, ms.
        Milliseconds = "milliseconds",
        /// `1:02:03.5` or `02:03`, since the log began or by a clock without a date.
        Clock = "clock",
        /// `14:20`, by a clock without seconds or a date.
        ClockMinutes = "clock_minutes",
        /// Since 1970, s.
        UnixSeconds = "unix_seconds",
        /// Since 1970, ms.
        UnixMilliseconds = "unix_milliseconds",
        /// `2026-11-25 14:20:00`, with or without `T` and zone.
        YearFirst = "year_first",
        /// `25.11.2026 14:20:00`
        DayFirst = "day_first",
        /// `11/25/2026 2:20:00 PM`
        MonthFirst = "month_first",
    }

    /// What a column holds; each quantity says where it was read.
    pub enum LogColumn {
        /// Nothing that is used.
        Ignored = "ignored",
        /// When the line was written.
        Time = "time",
        /// The date, where it stands apart from the time of day.
        Date = "date",
        /// On the source's display, V.
        SourceV = "source_v",
        /// On the source's display, A.
        SourceA = "source_a",
        /// On the charger, V.
        ChargerV = "charger_v",
        /// On the charger, A.
        ChargerA = "charger_a",
        /// Counted by the charger, Ah.
        ChargerAh = "charger_ah",
        /// At the pack's terminals, V.
        TerminalV = "terminal_v",
        /// Into the pack, A.
        TerminalA = "terminal_a",
        /// Out of the pack, A: where charging and discharging have a column each.
        DischargeA = "discharge_a",
        /// Into the pack, W: amps by its volts, where none are written.
        PowerW = "power_w",
        /// On the BMS, V.
        BmsV = "bms_v",
        /// On the BMS, A.
        BmsA = "bms_a",
        /// One cell, V.
        CellV = "cell_v",
        /// The pack's own temperature.
        Temperature = "temperature_c",
        /// Anything seen.
        Note = "note",
    }

    /// What a column counts in.
    pub enum LogUnit {
        /// Volts.
        V = "V",
        /// Millivolts.
        Mv = "mV",
        /// Amps.
        A = "A",
        /// Milliamps.
        Ma = "mA",
        /// Amp-hours.
        Ah = "Ah",
        /// Milliamp-hours.
        Mah = "mAh",
        /// Watts.
        W = "W",
        /// Degrees Celsius.
        C = "°C",
        /// Degrees Fahrenheit.
        F = "°F",
    }
}

codes! {
    /// Which columns a log has.
    pub enum LogColumns {
        /// Rumek's own.
        Rumek = "rumek",
        /// The Battery Data Format's labels; one voltage and one current, at the pack.
        Bdf = "bdf",
    }
}
