/** Places under one name, to be chosen together. */
export interface PlaceSetView {
  readonly id: string;
  readonly version: number;
  readonly name: string;
  /** Those that still are. */
  readonly destinationIds: readonly string[];
}

export interface AddPlaceSet {
  readonly name: string;
  readonly destinationIds: readonly string[];
}

export type EditPlaceSet = Partial<AddPlaceSet>;

export const PLACE_SET_NAME_LENGTH = 60;
