import { NavLink } from "react-router";

export function BenchHead() {
  return (
    <nav className="bench-head" aria-label="Bench">
      <NavLink to="/bench/flight">Flight</NavLink>
      <NavLink to="/bench/reach">Reach</NavLink>
      <NavLink to="/bench/club">Club</NavLink>
      <NavLink to="/bench/club-length">Club length</NavLink>
    </nav>
  );
}
