/** The stage brings the drawing library: a page is painted before it arrives. */
import { createElement } from 'react';
import { later } from '../ui/later';

export const Stage = later(() => import('../stage/Stage').then((m) => m.Stage), createElement('div', { className: 'h-full bg-stage' }));
