import { slug, writeProject } from '../../core/recipe/file';
import type { Project } from '../../core/recipe/schema';
import { download } from './download';

/** What a project's file is called. */
export const projectFile = (project: Project): string => `${slug(project.name)}.lathe.json`;

/** Hands a project to the browser as its file. */
export const saveProjectFile = (project: Project): void => download(projectFile(project), writeProject(project), 'application/json');
