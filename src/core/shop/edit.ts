/** Changes of a working drawing. */
import { freshId } from '../recipe/edit';
import type { NewDimension, Shop, ShopDimension, ShopView } from './document';

/** A view more; a dimension that lost its view never comes to stand in it. */
export const withView = (shop: Shop, view: Omit<ShopView, 'id'>): Shop => ({
  ...shop,
  views: [...shop.views, { ...view, id: freshId('v', [...shop.views.map((v) => v.id), ...shop.dimensions.map((d) => d.view)]) }],
});

/** A dimension the drawing has not yet; the same one is not put twice. */
export function withDimension(shop: Shop, added: NewDimension): Shop {
  const own = (d: NewDimension): string => JSON.stringify({ ...d, id: undefined, label: undefined });
  if (shop.dimensions.some((d) => own(d) === own(added))) return shop;
  const id = freshId(
    'd',
    shop.dimensions.map((d) => d.id),
  );
  return { ...shop, dimensions: [...shop.dimensions, { ...added, id } as ShopDimension] };
}
