//! What plugs and clips carry for hours: the commonest hot spot of a chain.
//!
//! Source: what is usually printed for such contacts, counted for hours and for contacts that are not new.

use crate::codes::Connector;

impl Connector {
    /// What it carries for hours, A; `None` where it carries what its wire does.
    #[must_use]
    pub const fn carries_a(self) -> Option<f64> {
        match self {
            Self::BalancePlug | Self::UsbC3 => Some(3.0),
            Self::ClipsSmall | Self::UsbC5 => Some(5.0),
            Self::ClipsLarge | Self::CarSocket => Some(10.0),
            Self::Banana | Self::TwoPin15 => Some(15.0),
            Self::Bullet3Mm | Self::TwoPin30 => Some(30.0),
            Self::Bullet4Mm => Some(40.0),
            Self::TwoPin60 => Some(60.0),
            Self::Screw | Self::Bolted => None,
        }
    }

    /// As it is called in a sentence.
    #[must_use]
    pub const fn words(self) -> &'static str {
        match self {
            Self::BalancePlug => "balance plug",
            Self::UsbC3 => "USB-C plug of 3 A",
            Self::UsbC5 => "USB-C plug of 5 A",
            Self::ClipsSmall => "small crocodile clips",
            Self::ClipsLarge => "large crocodile clips",
            Self::CarSocket => "vehicle socket",
            Self::Banana => "banana plugs",
            Self::TwoPin15 => "two-pin plug of 15 A",
            Self::TwoPin30 => "two-pin plug of 30 A",
            Self::TwoPin60 => "two-pin plug of 60 A",
            Self::Bullet3Mm => "3.5 mm bullets",
            Self::Bullet4Mm => "4 mm bullets",
            Self::Screw => "screw terminals",
            Self::Bolted => "bolted lugs",
        }
    }
}
