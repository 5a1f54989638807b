export { hann, RealFft } from '@tonos/kernels';
export {
  type Alignment,
  alignSources,
  LEAST_CONFIDENCE,
  TOGETHER,
} from './align/align.ts';
export { BoxProcessor, boxTransformSize } from './boxes/box-processor.ts';
export { boxSteps } from './boxes/box-step.ts';
export { type SpectralBox, spectralBox } from './boxes/spectral-box.ts';
export {
  type AdjustmentsFile,
  adjustChain,
  adjustmentsFile,
  adjustmentsFor,
  alikeAdjusted,
  type Misfit,
  mergeAdjustments,
  type StepAdjustment,
  stepAdjustment,
} from './chain/adjustments.ts';
export { type CatalogueEntry, catalogue } from './chain/catalogue.ts';
export {
  type ChainFault,
  type ChainFile,
  type ChainStep,
  type ConfiguredStep,
  chainFaults,
  chainFile,
  chainStep,
  configureChain,
  stepIds,
} from './chain/chain-file.ts';
export { checkModule, type ModuleCheck } from './chain/check-module.ts';
export { compareChains, type StepDifference } from './chain/compare.ts';
export { type EarlierRun, knownFindings } from './chain/known-findings.ts';
export {
  LEDGER_MEASURES,
  type Ledger,
  type LedgerFigures,
  LedgerMeter,
  type LedgerRow,
  ledgerFigures,
  measureLedger,
  NO_FIGURES,
  turnedUp,
} from './chain/ledger.ts';
export { LiveChain } from './chain/live-chain.ts';
export { newestNamed } from './chain/newest-named.ts';
export { planPasses } from './chain/plan.ts';
export { type Agree, chainMap, type RunSurroundings, runChain, type Spool, type StepReport } from './chain/run.ts';
export { SHIPPED_CHAINS } from './chain/shipped-chains.ts';
export { SHIPPED_PRESETS } from './chain/shipped-presets.ts';
export { RunningSteps } from './chain/step-runner.ts';
export { type ThreeWay, threeWay } from './chain/three-way.ts';
export { checkCuts, cutFaults } from './cuts/check-cuts.ts';
export {
  type CutsFile,
  cutName,
  cutsFile,
  cutsFor,
  cutsInOrder,
  MOST_CUTS,
  mapOfCuts,
  type PickUp,
  resultSecondsOf,
  secondsAfter,
  spanOf,
  type TimeCut,
  timeCut,
  timeCuts,
} from './cuts/cut.ts';
export { type CutSource, cutSource, type OpenedPickUp } from './cuts/cut-source.ts';
export { hearRooms } from './cuts/hear-rooms.ts';
export {
  matched,
  pickUpFilling,
  SurroundingMeter,
  takeStretches,
  windowsAround,
} from './cuts/pick-up.ts';
export { levelled } from './cuts/room-near.ts';
export { InLine } from './dsp/in-line.ts';
export { resampledSource, sourceAtRate } from './dsp/resampled-source.ts';
export { Resampler } from './dsp/resampler.ts';
export { speechEdgesOf } from './measure/activity/speech-edges.ts';
export {
  COMPLAINTS,
  type Complaint,
  type ComplaintCode,
  type ComplaintPlace,
  SEVERITIES,
  type Severity,
} from './measure/complaints/complaint.ts';
export { complaintText } from './measure/complaints/complaint-text.ts';
export { LiveMeter, type MeterReading } from './measure/live-meter.ts';
export { LoudnessMeter } from './measure/loudness.ts';
export {
  differenceUnit,
  type FileFacts,
  LIMITABLE_MEASURES,
  type LimitableMeasure,
  type Measurement,
  type SoundFigures,
  type Warning,
  type WarningCode,
} from './measure/measurement.ts';
export { type MeasureOptions, Meter, measureSource } from './measure/meter.ts';
export { largestMark, PEAK_MARKS_PER_SECOND, type PeakMark } from './measure/peak-marks.ts';
export {
  BASE_FRAMES,
  PYRAMID_FULL_SCALE,
  type PyramidChannel,
  type PyramidLevel,
  summarise,
} from './measure/pyramid.ts';
export {
  NO_CHOICE,
  overlaps,
  type RoomToneChoice,
  roomToneChoice,
  type TimeSpan,
  withoutNever,
} from './measure/room-tone-choice.ts';
export { SPECTROGRAM, spectrogramHz } from './measure/spectrogram-scale.ts';
export type { LongTermSpectrum } from './measure/spectrum.ts';
export { SpectrumMeter } from './measure/spectrum.ts';
export type { Survey } from './measure/survey.ts';
export { excerptOrder } from './orders/excerpt-order.ts';
export { foretoldPart, stretchOfPart } from './orders/foretold-part.ts';
export { type GainLine, givingWayLine, givingWayLines, LineGain } from './orders/giving-way.ts';
export { groupTrack, partTrack, type SoundingPart, summed } from './orders/mixer.ts';
export {
  type FindChain,
  type OrderFault,
  orderFaults,
  readOrder,
  refuse as refuseOrder,
  sentenceOf,
  stepsOf,
  withChains,
} from './orders/order-faults.ts';
export {
  chainNamesOf,
  type GivingWay,
  type NamedChain,
  type OrderFile,
  type OrderGroup,
  type OrderPart,
  orderFile,
  partName,
  placesOf,
} from './orders/order-file.ts';
export { type PartSound, partMap, soundOf } from './orders/part-source.ts';
export { type PartRecording, type PreparedPart, preparePart } from './orders/prepare-part.ts';
export { buildProgramme, type GroupListeners, type Programme, type ProgrammePart } from './orders/programme.ts';
export { type KnownPart, type PlacedPart, type ResolvedOrder, resolveOrder } from './orders/resolve-order.ts';
export { shippedPatterns } from './orders/shipped-patterns.ts';
export { type NoRemedy, nextRemedy, type RemedyStep } from './propose/next-remedy.ts';
export { type AdvisedFix, type OrderAdvice, orderAdvice } from './propose/order-advice.ts';
export { MOST_REDUCTION_DB, type Proposal, proposeChain } from './propose/propose-chain.ts';
export { Agreement } from './sets/agreement.ts';
export { type JointMembers, jointMembers, type KnownMember } from './sets/joint-members.ts';
export { type Placement, placedSource, spanOfSet } from './sets/place.ts';
export type { NumberMeta } from './settings/settings.ts';
export { silenceBadSamples } from './signal/bad-samples.ts';
export { changeLayout } from './signal/change-layout.ts';
export { countedSource } from './signal/counted-source.ts';
export { dbToGain, gainToDb, levelOrNull, powerToDb } from './signal/decibels.ts';
export { InvalidChainError, InvalidOrderError, InvalidTargetError, SignalError, TonosError } from './signal/errors.ts';
export { figure, hertzFigure, plainFigure, readHertz, signedFigure } from './signal/figures.ts';
export { heardOnce } from './signal/heard-once.ts';
export { cut, MemorySignal, MemorySpool } from './signal/memory.ts';
export { Random } from './signal/random.ts';
export {
  type Block,
  type CancelSignal,
  copyBlock,
  emptyBlock,
  framesOf,
  SIGNAL_LIMITS,
  type SignalFormat,
  type Sink,
  type Source,
  sliceBlock,
} from './signal/signal.ts';
export { assumedSpeakers, definedSpeakers, maskOf, type Speaker, speakersOfMask } from './signal/speakers.ts';
export { summedSources } from './signal/summed-sources.ts';
export { type ModuleManifest, moduleManifest } from './steps/custom/manifest.ts';
export { ModuleError } from './steps/custom/module-error.ts';
export { MODULE_LIMITS, type ModuleFile, readModuleFile } from './steps/custom/module-file.ts';
export { sharedWatch, WATCH_WORDS, WatchKeeper, watchModules } from './steps/custom/module-watch.ts';
export { CUSTOM, type ModuleName, moduleOf, modulesIn } from './steps/custom/named-module.ts';
export { forgetModule, isModuleKnown, knowModule } from './steps/custom/registry.ts';
export type { Handle } from './steps/handles.ts';
export { kindWith, STEPS, stepOf, stepOfKind } from './steps/index.ts';
export { knownFrom, mapKnown } from './steps/known.ts';
export type {
  AnyStep,
  EvenPace,
  Findings,
  KnownOfRecording,
  Processor,
  ShortenedPause,
  StepDefinition,
  Study,
} from './steps/step.ts';
export { asksForEnds, type EndsNote, fitEnds } from './target/ends.ts';
export { endsText, missedText, reasonsOff } from './target/explain.ts';
export { applyPlan, correctedPlan, type FinishPlan, firstPlan, settledPlan } from './target/finish.ts';
export { CLOSELY_FORETOLD_DB, type Forecast, forecast } from './target/forecast.ts';
export { deliveredFormat, type LaidOut, layOut } from './target/lay-out.ts';
export { deliveredName, freeName, NAME_WORDS, type NameParts, safeName, unknownWords } from './target/naming.ts';
export { type Departure, departures, LEAST_DIFFERENCES, medianOf } from './target/outliers.ts';
export { SHIPPED_TARGETS } from './target/shipped-targets.ts';
export { isLossy, type Limit, type OutputFormat, type TargetFile, targetFile } from './target/target-file.ts';
export { judge, type LimitResult, type Verdict } from './target/verdict.ts';
export { filling } from './time/end-splices.ts';
export { type Filling, type Splice, Splicer } from './time/splice.ts';
export {
  composeMaps,
  identityMap,
  isIdentity,
  type Knot,
  spanToResult,
  type TimeMap,
  toResult,
  toSource,
} from './time/time-map.ts';
