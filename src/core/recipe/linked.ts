/** One drawing on several planes: copies that stay one with what they were copied from. What they share `setProfile` keeps alike. */
import { freshId, setProfile } from './edit';
import { MOST_NAME, type Profile, type Project } from './schema';

/** The same drawing on another plane: a change of either changes both, until one is made its own. */
export function copyProfile(project: Project, id: string, plane: string): { project: Project; id: string } {
  const source = project.profiles.find((p) => p.id === id);
  if (!source) return { project, id };
  const fresh = freshId(
    'profile',
    project.profiles.map((p) => p.id),
  );
  const link =
    source.link ??
    freshId(
      'link',
      project.profiles.flatMap((p) => p.link ?? []),
    );
  const base = `${source.name.slice(0, MOST_NAME - 12)}, copy`;
  const taken = new Set(project.profiles.map((p) => p.name));
  let name = base;
  for (let n = 2; taken.has(name); n++) name = `${base} ${n}`;
  const { picture: _, ...rest } = source;
  const linked = setProfile(project, { ...source, link });
  return { id: fresh, project: setProfile(linked, { ...rest, id: fresh, name, plane, link }) };
}

/** A drawing by itself again; a link of one is none. */
export function unlinkProfile(project: Project, id: string): Project {
  const link = project.profiles.find((p) => p.id === id)?.link;
  if (!link) return project;
  const others = project.profiles.filter((p) => p.link === link && p.id !== id);
  const alone = new Set([id, ...(others.length === 1 ? [others[0]!.id] : [])]);
  const free = ({ link: _, ...rest }: Profile): Profile => rest;
  return { ...project, profiles: project.profiles.map((p) => (alone.has(p.id) ? free(p) : p)) };
}
