// The parts of School.

import { NavLink } from "react-router";

const PARTS = [
  ["devices", "Devices"],
  ["agreement", "Agreement"],
  ["doubtful", "Doubtful"],
  ["files", "Files"],
] as const;

export function SchoolHead() {
  return (
    <nav className="bench-head" aria-label="School">
      {PARTS.map(([path, label]) => (
        <NavLink key={path} to={`/school/${path}`}>
          {label}
        </NavLink>
      ))}
    </nav>
  );
}
