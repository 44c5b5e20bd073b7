//! Codes of packs.

codes! {
    /// What keeps the cells level.
    pub enum Balancer {
        /// Nothing.
        None = "none",
        /// The charger, through the balance lead.
        BalanceLead = "balance_lead",
        /// A separate balancer.
        External = "external",
        /// A circuit in the pack.
        BuiltIn = "built_in",
    }

    /// What a pack last did before it rested.
    pub enum LastUse {
        /// It was charged.
        Charged = "charged",
        /// It was discharged.
        Discharged = "discharged",
        /// Nobody knows.
        Unknown = "unknown",
    }

    /// What the charge is for.
    pub enum GoalKind {
        /// As full as the practice fills it.
        Full = "full",
        /// A state of charge.
        Soc = "soc",
        /// The voltage to store it at.
        Storage = "storage",
        /// Held at float (lead-acid).
        Float = "float",
    }

    /// A lasting mark from Rescue.
    pub enum PackMark {
        /// Brought back from deep discharge; its rating is reduced.
        Recovered = "recovered",
        /// Not to be charged again.
        Retired = "retired",
    }
}
