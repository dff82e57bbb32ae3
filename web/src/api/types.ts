/** Short names for the types of the service. */
import type { components } from "./schema";

type Schemas = components["schemas"];

export type Recipe = Schemas["Recipe"];
export type Strand = Schemas["Strand"];
export type Step = Schemas["Step"];
export type Cover = Schemas["Cover"];
export type Mask = Schemas["Mask"];
export type Term = Schemas["Term"];
export type Reading = Schemas["Reading"];
export type Head = Schemas["Head"];
export type Kind = Schemas["Kind"];
export type ShelfEntry = Schemas["ShelfEntry"];
export type Imported = Schemas["Imported"];
export type ExportStatus = Schemas["ExportStatus"];
export type Problem = Schemas["Problem"];
export type PictureHeader = Schemas["PictureHeader"];
export type FromViewer = Schemas["FromViewer"];
export type ToViewer = Schemas["ToViewer"];
export type BandMessage = Schemas["BandMessage"];
export type Finding = Schemas["FindingMessage"];
export type CoreSample = Schemas["CoreSample"];
export type Revision = Schemas["Revision"];
export type NamedMoment = Schemas["NamedMoment"];
export type Sheet = Schemas["Sheet"];
export type PresetEntry = Schemas["PresetEntry"];
export type Look = Extract<FromViewer, { type: "look" }>;
export type NewLandscape = Schemas["NewLandscape"];
export type Combination = Schemas["Combination"];
export type FlowLine = Schemas["FlowLine"];
export type Stroke = Schemas["Stroke"];
export type CoverCombination = Schemas["CoverCombination"];
export type Wash = Schemas["Wash"];
export type Finish = Schemas["Finish"];
export type ImportedPicture = Schemas["ImportedPicture"];
