import { acceptFinding } from './accept-finding';
import { bake } from './bake';
import { carry } from './carry';
import { enable } from './enable';
import { exempt } from './exempt';
import { fit } from './fit';
import { folderMove } from './folder-move';
import { grade } from './grade';
import { group } from './group';
import { layer } from './layer';
import { layerOrder } from './layer-order';
import { lookLater } from './look-later';
import { lut } from './lut';
import { marker } from './marker';
import { move } from './move';
import { namePattern } from './name-pattern';
import { names } from './names';
import { note } from './note';
import { correct, correctFolder, elsewhere, join, proxy } from './originals';
import { pair } from './pair';
import { placement } from './placement';
import { preference } from './preference';
import { rateMode } from './rate-mode';
import { reelPattern } from './reel-pattern';
import { referenceFit } from './reference-fit';
import { refuseCause } from './refuse-cause';
import { rejoin } from './rejoin';
import { replace } from './replace';
import { roll } from './roll';
import { rules } from './rules';
import { shift } from './shift';
import { slip } from './slip';
import { sourceReading } from './source-reading';
import { speed } from './speed';
import { split } from './split';
import { transition } from './transition';
import { trim } from './trim';
import { unpair } from './unpair';
import { viewing } from './viewing';

/** Every kind of decision by its name. A new one adds its file and a line here. */
export const KINDS = {
  'accept-finding': acceptFinding,
  bake,
  carry,
  correct,
  'correct-folder': correctFolder,
  enable,
  exempt,
  fit,
  'folder-move': folderMove,
  grade,
  group,
  join,
  layer,
  'layer-order': layerOrder,
  'look-later': lookLater,
  lut,
  'made-elsewhere': elsewhere,
  marker,
  move,
  'name-pattern': namePattern,
  names,
  note,
  pair,
  placement,
  preference,
  proxy,
  'rate-mode': rateMode,
  'reference-fit': referenceFit,
  'reel-pattern': reelPattern,
  'refuse-cause': refuseCause,
  rejoin,
  replace,
  roll,
  rules,
  shift,
  slip,
  'source-reading': sourceReading,
  speed,
  split,
  transition,
  trim,
  unpair,
  viewing,
};
