/** Mesh files for makers: binary STL, OBJ, 3MF. All in millimetres; bytes only, no storage. */
import { strToU8, zipSync } from 'fflate';
import type { TriMesh } from '../mesh/mesh';
import { triangleNormals } from '../mesh/mesh';
import { asciiText, lineText, xmlText } from './encode';

/** A body of a file, by its name. */
export interface MeshPart {
  readonly mesh: TriMesh;
  readonly name: string;
  /** #rrggbb. */
  readonly colour?: string | undefined;
}

/** Binary STL: 80 bytes of header, a count, 50 bytes a triangle, little endian. It knows no bodies: all stand in it one after the other. */
export function writeStl(parts: readonly MeshPart[], title: string): Uint8Array {
  const n = parts.reduce((sum, { mesh }) => sum + mesh.indices.length / 3, 0);
  const out = new Uint8Array(84 + 50 * n);
  // A header that begins with "solid" is taken for text by some readers.
  out.set(strToU8(asciiText(`binary, mm, ${title}`).slice(0, 80)));
  const view = new DataView(out.buffer);
  view.setUint32(80, n, true);
  let at = 84;
  for (const { mesh } of parts) {
    const normals = triangleNormals(mesh);
    for (let t = 0; t < mesh.indices.length / 3; t++, at += 2) {
      for (let k = 0; k < 3; k++, at += 4) view.setFloat32(at, normals[3 * t + k]!, true);
      for (let c = 0; c < 3; c++)
        for (let k = 0; k < 3; k++, at += 4) view.setFloat32(at, mesh.positions[3 * mesh.indices[3 * t + c]! + k]!, true);
    }
  }
  return out;
}

const number = (v: number): string => String(Number(v.toFixed(6)));

/** OBJ, an object a body; vertices are counted through the file. */
export function writeObj(parts: readonly MeshPart[], title: string): Uint8Array {
  const lines = [`# ${lineText(title)}`, '# units: mm'];
  let first = 1;
  for (const { mesh, name } of parts) {
    lines.push(`o ${lineText(name).trim() || 'body'}`);
    for (let i = 0; i < mesh.positions.length; i += 3)
      lines.push(`v ${number(mesh.positions[i]!)} ${number(mesh.positions[i + 1]!)} ${number(mesh.positions[i + 2]!)}`);
    for (let t = 0; t < mesh.indices.length; t += 3)
      lines.push(`f ${mesh.indices[t]! + first} ${mesh.indices[t + 1]! + first} ${mesh.indices[t + 2]! + first}`);
    first += mesh.positions.length / 3;
  }
  return strToU8(`${lines.join('\n')}\n`);
}

/**
 * 3MF package, an object a body, all where they stand, those with a colour in it. Source: 3MF Core Specification 1.2, parts "3D Model" (with
 * `basematerials`) and "Open Packaging Conventions".
 */
export function write3mf(parts: readonly MeshPart[], title: string): Uint8Array {
  // Objects are numbered from one; the palette comes after them.
  const palette = parts.length + 1;
  const coloured = parts.filter((p) => p.colour);
  const objects = parts.map((part, k) => {
    const { mesh, name, colour } = part;
    const paint = colour ? ` pid="${palette}" pindex="${coloured.indexOf(part)}"` : '';
    const vertices: string[] = [];
    for (let i = 0; i < mesh.positions.length; i += 3)
      vertices.push(
        `<vertex x="${number(mesh.positions[i]!)}" y="${number(mesh.positions[i + 1]!)}" z="${number(mesh.positions[i + 2]!)}"/>`,
      );
    const triangles: string[] = [];
    for (let t = 0; t < mesh.indices.length; t += 3)
      triangles.push(`<triangle v1="${mesh.indices[t]}" v2="${mesh.indices[t + 1]}" v3="${mesh.indices[t + 2]}"/>`);
    return `<object id="${k + 1}" type="model" name="${xmlText(name)}"${paint}><mesh>
<vertices>${vertices.join('')}</vertices>
<triangles>${triangles.join('')}</triangles>
</mesh></object>`;
  });
  const bases =
    coloured.length > 0
      ? `<basematerials id="${palette}">${coloured.map((p) => `<base name="${xmlText(p.name)}" displaycolor="${p.colour!.toUpperCase()}"/>`).join('')}</basematerials>\n`
      : '';
  const model = `<?xml version="1.0" encoding="UTF-8"?>
<model unit="millimeter" xml:lang="en-US" xmlns="http://schemas.microsoft.com/3dmanufacturing/core/2015/02">
<metadata name="Title">${xmlText(title)}</metadata>
<resources>${bases}${objects.join('\n')}</resources>
<build>${parts.map((_, k) => `<item objectid="${k + 1}"/>`).join('')}</build>
</model>`;
  const types = `<?xml version="1.0" encoding="UTF-8"?>
<Types xmlns="http://schemas.openxmlformats.org/package/2006/content-types"><Default Extension="rels" ContentType="application/vnd.openxmlformats-package.relationships+xml"/><Default Extension="model" ContentType="application/vnd.ms-package.3dmanufacturing-3dmodel+xml"/></Types>`;
  const rels = `<?xml version="1.0" encoding="UTF-8"?>
<Relationships xmlns="http://schemas.openxmlformats.org/package/2006/relationships"><Relationship Target="/3D/3dmodel.model" Id="rel0" Type="http://schemas.microsoft.com/3dmanufacturing/2013/01/3dmodel"/></Relationships>`;
  return zipSync({ '[Content_Types].xml': strToU8(types), '_rels/.rels': strToU8(rels), '3D/3dmodel.model': strToU8(model) }, { level: 6 });
}
