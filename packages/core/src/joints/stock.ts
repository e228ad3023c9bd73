/** Rods that can be bought: diameters in mm, and how long a stick is (null: as long as is wanted). */
export const STOCKS = [
  { stock: 'wood', label: 'Wooden dowel', diameters: [6, 8, 10], length: 300 },
  { stock: 'rod', label: 'Metal rod', diameters: [2, 3, 4, 5, 6], length: 250 },
  { stock: 'filament', label: 'Filament', diameters: [1.75, 2.85], length: null },
  { stock: 'own', label: 'Own stock', diameters: [], length: null },
] as const;

export type Stock = (typeof STOCKS)[number]['stock'] | 'printed';

export const STOCK_NAMES: Record<Stock, string> = {
  printed: 'printed rod',
  wood: 'wooden dowel',
  rod: 'metal rod',
  filament: 'filament',
  own: 'rod',
};

/** Common sizes of disc and block magnets, mm. */
export const MAGNETS = [
  { shape: 'disc', diameter: 3, thickness: 2 },
  { shape: 'disc', diameter: 5, thickness: 2 },
  { shape: 'disc', diameter: 6, thickness: 3 },
  { shape: 'disc', diameter: 8, thickness: 3 },
  { shape: 'disc', diameter: 10, thickness: 3 },
  { shape: 'block', diameter: 10, height: 5, thickness: 2 },
  { shape: 'block', diameter: 20, height: 10, thickness: 3 },
] as const;

/** How long a stick of a stock is, mm; infinite where it does not matter. */
export const stickLength = (stock: Stock): number => STOCKS.find((s) => s.stock === stock)?.length ?? Infinity;
