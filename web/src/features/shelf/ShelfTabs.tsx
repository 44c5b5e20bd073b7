import { NavLink } from "react-router";

/** Packs, and the bench where cells become packs. */
export function ShelfTabs() {
  return (
    <nav className="shelf-tabs" aria-label="Shelf">
      <NavLink to="/shelf" end>
        Packs
      </NavLink>
      <NavLink to="/shelf/cells">Cells</NavLink>
    </nav>
  );
}
