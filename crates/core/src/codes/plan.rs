//! Codes of plans.

codes! {
    /// How hard to charge.
    pub enum Practice {
        /// Half the standard rate; lithium to 80–90 %.
        Gentle = "gentle",
        /// The chemistry's usual rate, to full.
        Standard = "standard",
        /// The label's rate, else the chemistry's hurry rate.
        Hurry = "hurry",
    }
}
