import { useRef } from 'react';
import { toast } from 'sonner';
import type { FitObject } from '../../core/inspect/fit';
import { fail, type Result } from '../../core/result';
import { readMesh } from '../files/read';
import { Pick, ValueRow } from './fields';

const OBJECTS: Readonly<Record<Exclude<FitObject['kind'], 'mesh'>, FitObject>> = {
  cylinder: { kind: 'cylinder', diameter: 30, height: 80 },
  box: { kind: 'box', width: 20, depth: 20, height: 60 },
  ball: { kind: 'ball', diameter: 25 },
};

/** What is put in, with its sizes. */
export function ObjectSettings({
  object,
  check,
  onChange,
}: {
  object: FitObject | null;
  check: (t: string) => Result<number, string>;
  onChange: (o: FitObject | null) => void;
}) {
  const file = useRef<HTMLInputElement>(null);
  const sizes = object && object.kind !== 'mesh' ? Object.entries(object).filter(([k]) => k !== 'kind') : [];
  const bring = async (file: File | undefined): Promise<void> => {
    if (!file) return;
    const read = await readMesh(file);
    if (read.ok) onChange({ kind: 'mesh', name: file.name, ...read.value });
    else toast.error(read.error);
  };
  const positive = (t: string): Result<number, string> => {
    const r = check(t);
    return r.ok && !(r.value > 0) ? fail('a size is more than nothing') : r;
  };
  return (
    <>
      <Pick
        label="Put in"
        value={object?.kind ?? 'none'}
        options={[
          ['none', 'nothing'],
          ['cylinder', 'a cylinder'],
          ['box', 'a box'],
          ['ball', 'a ball'],
          ['mesh', 'a mesh file…'],
        ]}
        onChange={(k) => {
          if (k === 'mesh') file.current?.click();
          else onChange(k === 'none' ? null : OBJECTS[k]);
        }}
      />
      <input
        ref={file}
        type="file"
        accept=".stl,.obj"
        aria-label="Mesh file to put in"
        className="hidden"
        onChange={(e) => {
          void bring(e.target.files?.[0]);
          e.target.value = '';
        }}
      />
      {object?.kind === 'mesh' && <p className="text-[12px] text-ink2">{object.name}, upright as in its file</p>}
      {sizes.map(([name, v]) => (
        <ValueRow
          key={name}
          label={name}
          name={`${name} of what is put in`}
          value={`${v} mm`}
          check={positive}
          onTake={(size) => onChange({ ...object!, [name]: size } as FitObject)}
        />
      ))}
    </>
  );
}
