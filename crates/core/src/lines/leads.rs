//! Wires, plugs and fuses.

use super::line::lines;

lines! { "leads" {
    /// A cable that loses more than this share of the volts is worth thickening.
    DROP "drop": f64 = 0.03, Share, Above, Practice, [Plan];
    /// A wire with more than so many times what it carries burns.
    BURNS "burns": f64 = 1.5, Share, Above, Handbook, [Plan];
    /// Ordinary blade and glass fuses part up to this.
    FUSE_V "fuse_v": f64 = 32.0, Volt, Above, DataSheets, [Plan];
    /// … and break so much.
    FUSE_BREAKS_A "fuse_breaks_a": f64 = 1000.0, Ampere, Above, DataSheets, [Plan];
    /// A plug with more than so many times its rating overheats.
    PLUG_OVER "plug_over": f64 = 1.25, Share, Above, DataSheets, [Plan];
    /// Clips carry no more than this.
    CLIPS_A "clips_a": f64 = 10.0, Ampere, Above, DataSheets, [Plan];
    /// A USB cable's minus carries no more than this.
    USB_A "usb_a": f64 = 3.0, Ampere, Above, Standard, [Plan];
    /// What a vehicle's socket is fused for.
    SOCKET_A "socket_a": f64 = 10.0, Ampere, Above, Practice, [Plan];
    /// An outlet's circuit is loaded with this share for hours.
    CIRCUIT "circuit": f64 = 0.8, Share, Above, Standard, [Plan];
    /// A cable that takes this much more than its copper explains has a poor contact: ten good plugs have as much.
    STRAY_OHM "stray_ohm": f64 = 0.02, Ohm, Above, Practice, [Run];
    /// … and it is told from this much on.
    STRAY_V "stray_v": f64 = 0.1, Volt, Above, Meters, [Run];
}}
