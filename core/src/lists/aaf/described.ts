import type { NewStorage } from './compound-write';
import { type BaselineClass, type BaselineType, CLASSES, type NewObject, newPaths, storageOf, TYPES, type Value } from './object-write';

interface Described {
  readonly object: NewObject;
  readonly storage: NewStorage;
  /** The paths that its references lead along: those of a file begin with them. */
  readonly paths: readonly (readonly string[])[];
}
let described: Described | null = null;

/** The meta dictionary of a file: the classes and types that it is written with, so that a reader needs no other. It is put together once. */
export function metaDictionary(): Described {
  if (described) return described;
  const object: NewObject = {
    is: 'MetaDictionary',
    has: { ClassDefinitions: CLASSES.map(classOf), TypeDefinitions: TYPES.map(typeOf) },
  };
  const paths = newPaths();
  described = { object, storage: storageOf(object, paths), paths: paths.all };
  return described;
}

const idOf = (name: string): string => CLASSES.find((c) => c.name === name)?.id ?? '';

const classOf = ({ name, id, parent, concrete, properties }: BaselineClass): NewObject => ({
  is: 'ClassDefinition',
  has: {
    Identification: id,
    Name: name,
    // One that is of no other refers to itself.
    ParentClass: parent === null ? id : idOf(parent),
    IsConcrete: concrete,
    Properties:
      properties.length === 0
        ? undefined
        : properties.map(([of, own, pid, type, optional, unique]) => ({
            is: 'PropertyDefinition',
            has: {
              Identification: own,
              Name: of,
              Type: type,
              IsOptional: optional,
              LocalIdentification: pid,
              IsUniqueIdentifier: unique ? true : undefined,
            },
          })),
  },
});

/** How each kind of type is described: its class, and what of it is said. */
const KINDS: Readonly<Record<string, readonly [string, (type: BaselineType) => Readonly<Record<string, Value | undefined>>]>> = {
  integer: ['TypeDefinitionInteger', (t) => ({ Size: t.size, IsSigned: t.signed })],
  strong: ['TypeDefinitionStrongObjectReference', (t) => ({ ReferencedType: t.of })],
  weak: ['TypeDefinitionWeakObjectReference', (t) => ({ ReferencedType: t.of, TargetSet: t.path })],
  enumeration: ['TypeDefinitionEnumeration', (t) => ({ ElementType: t.of, ElementNames: t.names, ElementValues: t.values })],
  fixed: ['TypeDefinitionFixedArray', (t) => ({ ElementType: t.of, ElementCount: t.count })],
  array: ['TypeDefinitionVariableArray', (t) => ({ ElementType: t.of })],
  set: ['TypeDefinitionSet', (t) => ({ ElementType: t.of })],
  string: ['TypeDefinitionString', (t) => ({ ElementType: t.of })],
  stream: ['TypeDefinitionStream', () => ({})],
  record: ['TypeDefinitionRecord', (t) => ({ MemberTypes: t.types, MemberNames: t.names })],
  rename: ['TypeDefinitionRename', (t) => ({ RenamedType: t.of })],
  extended: ['TypeDefinitionExtendibleEnumeration', (t) => ({ ElementNames: t.names, ElementValues: t.values })],
  indirect: ['TypeDefinitionIndirect', () => ({})],
  opaque: ['TypeDefinitionOpaque', () => ({})],
  character: ['TypeDefinitionCharacter', () => ({})],
};

function typeOf(type: BaselineType): NewObject {
  const [is, says] = KINDS[type.kind] as (typeof KINDS)[string];
  return { is, has: { Identification: type.id, Name: type.name, ...says(type) } };
}
