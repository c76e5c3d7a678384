// Pictures and tables to take away.

export interface ChartTable {
  columns: string[];
  rows: (string | number)[][];
}

function save(href: string, name: string) {
  const link = document.createElement("a");
  link.href = href;
  link.download = name;
  link.click();
}

function fileName(title: string, ending: string): string {
  return `${title.toLowerCase().replace(/[^a-z0-9]+/g, "-")}.${ending}`;
}

/** Saves a table as a file. */
export function saveCsv(table: ChartTable, title: string) {
  const quoted = (cell: string | number) => `"${String(cell).replaceAll('"', '""')}"`;
  const lines = [table.columns, ...table.rows].map((row) => row.map(quoted).join(","));
  saveBlob(new Blob([`${lines.join("\r\n")}\r\n`], { type: "text/csv" }), `${title}.csv`);
}

/** Saves what was read under a name: "Speed day.csv". */
export function saveBlob(blob: Blob, name: string) {
  const [title = "", ending = ""] = name.split(/\.(?=[a-z]+$)/);
  const url = URL.createObjectURL(blob);
  save(url, fileName(title, ending));
  URL.revokeObjectURL(url);
}

/** Saves a picture as it is seen: what styles sheets say of it goes along. */
export function savePng(svg: SVGSVGElement, title: string) {
  const { width, height } = svg.getBoundingClientRect();
  const text = new XMLSerializer().serializeToString(styled(svg));
  const picture = new Image();
  picture.onload = () => {
    const canvas = document.createElement("canvas");
    canvas.width = width * 2;
    canvas.height = height * 2;
    const pen = canvas.getContext("2d");
    if (!pen) return;
    pen.scale(2, 2);
    pen.fillStyle = getComputedStyle(document.body).backgroundColor;
    pen.fillRect(0, 0, width, height);
    pen.drawImage(picture, 0, 0, width, height);
    save(canvas.toDataURL("image/png"), fileName(title, "png"));
  };
  picture.src = `data:image/svg+xml;charset=utf-8,${encodeURIComponent(text)}`;
}

const STYLES = ["fill", "stroke", "stroke-width", "stroke-dasharray", "font", "opacity"];

function styled(svg: SVGSVGElement): Node {
  const copy = svg.cloneNode(true) as SVGSVGElement;
  const copies = copy.querySelectorAll<SVGElement>("*");
  svg.querySelectorAll<SVGElement>("*").forEach((element, i) => {
    const seen = getComputedStyle(element);
    for (const name of STYLES) copies[i]?.style.setProperty(name, seen.getPropertyValue(name));
  });
  return copy;
}
