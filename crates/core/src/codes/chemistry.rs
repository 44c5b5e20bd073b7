//! The chemistries.

codes! {
    /// The chemistries Rumek has figures for, and `custom`.
    pub enum Chemistry {
        /// Lithium polymer, 4.20 V.
        Lipo = "lipo",
        /// High-voltage lithium polymer, 4.35 V.
        Lihv = "lihv",
        /// Lithium-ion in hard cases, 4.20 V.
        LiIon = "li_ion",
        /// Lithium iron phosphate.
        Lfp = "lfp",
        /// Lithium titanate.
        Lto = "lto",
        /// Sodium between hard carbon and a layered oxide.
        SodiumIon = "sodium_ion",
        /// Nickel metal hydride.
        Nimh = "nimh",
        /// Nickel cadmium.
        Nicd = "nicd",
        /// Flooded lead-acid.
        LeadFlooded = "lead_flooded",
        /// Lead-acid with a glass mat.
        LeadAgm = "lead_agm",
        /// Lead-acid with gelled acid.
        LeadGel = "lead_gel",
        /// Double-layer capacitor.
        Supercap = "supercap",
        /// Figures given by the person.
        Custom = "custom",
    }
}
