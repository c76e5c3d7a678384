// The parts of School.

import { NavLink } from "react-router";
import { useMe } from "../app/asked";

const PARTS = [
  ["people", "People", "may_own"],
  ["devices", "Devices", null],
  ["agreement", "Agreement", null],
  ["doubtful", "Doubtful", null],
  ["files", "Files", "may_keep"],
  ["record", "Record", "may_own"],
] as const;

/** Leads to the parts that the one who is signed in may use. */
export function SchoolHead() {
  const me = useMe();
  const parts = PARTS.filter(([, , right]) => right === null || me.data?.[right]);
  return (
    <nav className="bench-head" aria-label="School">
      {parts.map(([path, label]) => (
        <NavLink key={path} to={`/school/${path}`}>
          {label}
        </NavLink>
      ))}
    </nav>
  );
}
