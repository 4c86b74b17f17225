/** What the demo company's items are made from. */

/** Parent, then component, quantity per piece and scrap share. */
export const BOMS: Readonly<Record<string, readonly (readonly [component: string, quantity: string, scrap: string])[]>> = {
  'HIVE-10': [
    ['ROOF', '1', '0'],
    ['COVER', '1', '0'],
    ['BROODBOX', '2', '0'],
    ['SUPER', '1', '0'],
    ['FLOOR', '1', '0'],
    ['FRAMES-10', '3', '0'],
    ['STANDKIT', '1', '0'],
  ],
  STANDKIT: [
    ['PLANK', '3.2', '0.05'],
    ['SCREW', '16', '0.02'],
  ],
  BROODBOX: [
    ['PLANK', '2.1', '0.06'],
    ['SCREW', '24', '0.02'],
  ],
  SUPER: [
    ['PLANK', '1.5', '0.06'],
    ['SCREW', '20', '0.02'],
  ],
  ROOF: [
    ['PLANK', '1.2', '0.06'],
    ['STEEL', '0.25', '0.04'],
    ['FELT', '0.5', '0.05'],
    ['SCREW', '18', '0.02'],
  ],
  FLOOR: [
    ['PLANK', '1.1', '0.06'],
    ['MESH', '1', '0.02'],
    ['SCREW', '14', '0.02'],
  ],
  COVER: [
    ['PLANK', '0.9', '0.06'],
    ['NAIL', '12', '0.05'],
  ],
  'FRAMES-10': [
    ['FRAME', '10', '0'],
    ['CARTON', '1', '0.01'],
  ],
  FRAME: [
    ['BARSET', '1', '0.03'],
    ['WIRE', '2.4', '0.05'],
    ['WAXSHEET', '1', '0.02'],
    ['NAIL', '8', '0.05'],
  ],
  BARSET: [['PINE', '0.24', '0.08']],
  PLANK: [['PINE', '1', '0.12']],
  WAXSHEET: [['RAWWAX', '0.072', '0.03']],
  'EXTRACT-9': [
    ['DRUM', '1', '0'],
    ['CAGE', '1', '0'],
    ['MOTOR-12', '1', '0'],
    ['CTRL-12', '1', '0'],
    ['SCREW', '32', '0.02'],
  ],
  DRUM: [['STEEL', '3', '0.05']],
  CAGE: [
    ['STEEL', '1', '0.05'],
    ['WIRE', '28', '0.05'],
  ],
  FONDANT: [
    ['SUGAR', '2.1', '0.03'],
    ['CARTON', '0.1', '0'],
  ],
  PAINTSET: [
    ['PAINT', '1', '0'],
    ['BRUSH', '1', '0'],
    ['CARTON', '1', '0'],
  ],
};
