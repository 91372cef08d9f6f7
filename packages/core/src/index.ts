// Findings about a text or a run
export { unforeseen } from './language/checker.ts';
export type { Diagnostic, Fix, FailureFacts, LinePlace, Span, TextEdit } from './diagnostics.ts';
export { applyEdits, ModelError, placeOf } from './diagnostics.ts';

// The language
export type { Token } from './language/lexer.ts';
export { lex, MAX_TEXT_LENGTH } from './language/lexer.ts';
export { PART_WORDS, WORDS } from './language/words.ts';
export { formatModel } from './language/format.ts';
export { filesWanted } from './language/data.ts';
export type { SheetRow } from './language/sheet.ts';
export { sheetRows } from './language/sheet.ts';
export { withSoundRepairs } from './language/repairs.ts';
export type { CheckedModel, CheckResult, KindSymbol, ParameterSymbol } from './language/checked.ts';
export type { ParameterReading } from './language/parameter-input.ts';
export { readParameter, withinBounds } from './language/parameter-input.ts';
export type { Prose, ProseHeading } from './language/prose.ts';
export { answersIn, PLAN_QUESTIONS, readProse, REPORT_QUESTIONS, writeProse } from './language/prose.ts';
export type { Addition } from './language/edits.ts';
export { addState, addToModel, addTransition, movePart, removeBlock, replaceLine } from './language/edits.ts';
export type { Leg, LineCourse } from './maps/journeys.ts';
export { expectedJourney } from './runs/expected-journey.ts';
export type { Renaming } from './language/rename.ts';
export { Names } from './language/rename.ts';
export { treeOf } from './language/parser.ts';
export { FUNCTIONS, SPECIAL_FUNCTIONS } from './language/functions.ts';
export { unitWords } from './language/units.ts';
export type { LookColour, LookScaleEnd, LookShape } from './language/looks.ts';
export { hasHeading, LOOK_COLOURS, LOOK_SHAPES } from './language/looks.ts';
export type { AnyPart } from './language/syntax.ts';

// From text to something that runs
export type { LoadedModel, LoadResult } from './load.ts';
export { compileLightly, compilePlan, loadModel } from './load.ts';
export type { ColumnPlan, KindPlan, ParameterPlan, Plan, ShowPlan } from './plan/plan.ts';
export { startOnlyParameters } from './plan/start-parameters.ts';
export { CompiledPlan } from './javascript/compiled-plan.ts';
export type { Crew, CrewMessage } from './kernel/crew.ts';
export { GeneratedRun } from './javascript/generated-run.ts';
export { interpretPlan } from './interpret/interpret.ts';

// Spaces
export { FORMS } from './forms/forms.ts';
export { measuredPlace } from './forms/lengths.ts';
export type { FieldGrid } from './forms/space.ts';
export { HEX_ROW } from './forms/hexagons.ts';

// Maps
export type { LaneNetwork, MapTold } from './maps/lane-network.ts';
export { laneNetwork } from './maps/lane-network.ts';
export type { MapFile, ModelFile } from './maps/map-file.ts';
export { MapProblem } from './maps/map-file.ts';
export type { FileMarks } from './maps/file-mark.ts';
export { fileMark, fileMarks, otherFiles, quotedNames } from './maps/file-mark.ts';
export { mapAsGeoJson } from './maps/geojson-text.ts';
export { fileFromBytes, mapToBytes, textToBytes } from './maps/map-bytes.ts';
export { isMapName, MAP_ENDINGS } from './maps/map-name.ts';
export { modelFiles, readMap } from './maps/read-map.ts';

// Runs
export type { AgentColumn, AgentKey } from './state/readers.ts';
export type { TraceEvent } from './engine/trace.ts';
export type { HandAct } from './engine/hand-act.ts';
export type { HandState } from './runs/hand.ts';
export { actByHand, handState, restoreHand } from './runs/hand.ts';
export type { PaintedZone } from './runs/write-zone.ts';
export { writeZone } from './runs/write-zone.ts';
export type { Zones } from './plan/start-space.ts';
export type { RunSnapshot, TimelineMark } from './engine/run.ts';
export { Run } from './engine/run.ts';
export type { CivilDate } from './calendar/civil.ts';
export { civilFromDays, daysFromCivil, MONTHS } from './calendar/civil.ts';
export type { PopulationView, StateView } from './engine/executable.ts';

// Measures of networks
export { componentSizes, meanClustering, meanPathLength } from './measures/network-measures.ts';

// Studies
export type { Factor, FactorReading } from './studies/design/factors.ts';
export { readFactor } from './studies/design/factors.ts';
export type { Design, DesignPoint, StudyJob, StudySetting } from './studies/design/design.ts';
export type { KeptStudy } from './studies/design/kept-study.ts';
export { designOf, keptDefinition, settingOf, variesNothing } from './studies/design/kept-study.ts';
export { isSampled, jobsOf, pointAt, pointCount, runCount, seedsAt } from './studies/design/design.ts';
export type { RunJob, RunOutcome, RunResult } from './studies/runner/simulate.ts';
export { simulate } from './studies/runner/simulate.ts';
export type { Executor, FinishedRun, Proposer, Sink, StudyEnd } from './studies/runner/run-study.ts';
export { failureWords, runStudy, WorkerLost } from './studies/runner/run-study.ts';
export { keyOfRun, missingRuns } from './studies/runner/missing-runs.ts';
export type { ResultBlock } from './studies/results/block.ts';
export { blockOf, runsIn } from './studies/results/block.ts';
export { BlockError, decodeBlock, encodeBlock, joinBlocks, splitBlocks } from './studies/results/block-bytes.ts';
export type { FinishedKeys } from './studies/results/study-results.ts';
export { StudyResults } from './studies/results/study-results.ts';
export type {
  Answers,
  AnswerTo,
  ApartAnswer,
  CrossingAnswer,
  DifferencesAnswer,
  EffectsAnswer,
  FanAnswer,
  GroupAnswer,
  OutcomesAnswer,
  PointAnswer,
  Question,
  ResultTable,
  RunKey,
  RunLine,
  AgreementAnswer,
  MeanFieldAnswer,
  MeanFieldLine,
  AtDateAnswer,
  ObservationAnswer,
  PosteriorAnswer,
  RankingAnswer,
  SeriesAgreement,
  RunRow,
  RunSplit,
} from './studies/answers/questions.ts';
export type { Sensitivity } from './studies/answers/sensitivity.ts';
export { pairedDifference } from './studies/statistics/differences.ts';
export type { PairedDifference } from './studies/statistics/differences.ts';
export type { AskedStudy } from './studies/answers/answer.ts';
export { rankingOver } from './studies/answers/agreement.ts';
export { answerTo } from './studies/answers/answer.ts';
export { rowFilter } from './studies/answers/row-filter.ts';
export type { Bands } from './studies/statistics/bands.ts';
export type { Course, CourseForm } from './studies/statistics/course.ts';
export { canRead, COURSE_FORMS, courseIn, plainCourse } from './studies/statistics/course.ts';
export type { Estimate, SummaryEstimate } from './studies/statistics/intervals.ts';
export type { CheckOutcome, ExpectationOutcome, FailedRun } from './studies/checks.ts';
export { expectationWords, runCheck } from './studies/checks.ts';

// Studies as texts
export type { ListedPoints } from './studies/design/design-schema.ts';
export { ListedPointsSchema, OutcomeSchema, StoppingRuleSchema } from './studies/design/design-schema.ts';
export type { Outcome } from './studies/outcomes.ts';
export { withOutcomes } from './studies/outcomes.ts';
export { textWithTimeline } from './studies/scenario-text.ts';
export { StudiedPlans } from './studies/studied-plans.ts';
export type { StudiedModel, StudyDefinition, StudyReading } from './studies/text/read-study.ts';
export { modelNamedIn, readStudy } from './studies/text/read-study.ts';
export type { StudyInModel } from './studies/text/in-model.ts';
export {
  findingsInStudies,
  scenariosInText,
  studiesInText,
  withoutStudies,
  withStudy,
} from './studies/text/in-model.ts';
export type { StoppingRule, ValueOfRun } from './studies/runner/seeds-until.ts';
export { SeedsUntil } from './studies/runner/seeds-until.ts';

// What was observed
export type { ObservedTable } from './studies/match/observations.ts';
export { timeOfDate } from './studies/match/observations.ts';
export type { DateOrder } from './calendar/dates.ts';
export type { ColumnLook, TableLook } from './studies/match/table-look.ts';
export { lookAtTable } from './studies/match/table-look.ts';
export { ObservedMappingSchema } from './studies/match/observed-mapping.ts';
export { matchOfMapping, quotedName } from './studies/match/match-writing.ts';
export type { AgreementScores, DistributionAgreement, ScoreName, SeriesPart } from './studies/match/agreement.ts';
export { SCORES } from './studies/match/agreement.ts';
export type { PosteriorBins, UnknownFinding } from './studies/match/calibration/findings.ts';
export type { Posterior } from './studies/match/calibration/match-search.ts';
export type { ObservedFan } from './studies/match/observed-fan.ts';
export type { CsvTable } from './studies/match/observed-csv.ts';
export { checkSize, notesOf, readCsv } from './studies/match/observed-csv.ts';
export type { MatchLine } from './studies/match/match-lines.ts';
export { MATCH_METHODS, matchLines, tablesNamedIn } from './studies/match/match-lines.ts';
export type { MatchDefinition, MatchReading } from './studies/match/read-match.ts';
export { MATCH_LIMITS, readMatch } from './studies/match/read-match.ts';
export type { RunWithValues } from './studies/match/match-runs.ts';
export { csvOfMatch, matchTables } from './studies/match/match-tables.ts';
export { MatchSearch, PILOTS } from './studies/match/calibration/match-search.ts';
export { evenDraws } from './studies/match/calibration/even-draws.ts';
export { matchRuns } from './studies/match/match-runs.ts';

// Files
export type { Cell } from './csv.ts';
export { csvOf } from './csv.ts';
export {
  heading,
  rowHeader,
  runRows,
  summaryHeader,
  summaryRow,
  timeOf,
  unitOfParameter,
  wordsOfParameter,
} from './studies/results/table.ts';
export type { Note } from './engine/run-context.ts';
export { MOST_NOTES } from './engine/run-context.ts';
export { noteCells, noteHeader, noteLines, writesNotes } from './studies/records/note-table.ts';
export type { AgentPair, RecordedRows } from './studies/records/record-table.ts';
export { agentPairs, recordCells, recordColumns, recordHeader } from './studies/records/record-table.ts';
export type { NetworkWish, RecordAnswerTo, RecordQuestion } from './studies/records/record-answers.ts';
export type { PilotRun } from './studies/runner/pilot.ts';
export { pilot } from './studies/runner/pilot.ts';
export { answerOfRecord } from './studies/records/record-answers.ts';
export type { NetworkAnswer, NetworkFigures, NetworkPicture } from './studies/records/network.ts';
export { differencesTable, indicesTable, nameOfPoint, pointsTable } from './studies/results/study-tables.ts';
export { parquetOf } from './parquet.ts';
export { rasterText } from './raster-text.ts';
export { escapedXml } from './xml.ts';
export { graphmlOf } from './graphml.ts';
export { textDigest } from './digest.ts';
export type { Bundle, BundleFiles, BundleObserved, BundleStudy } from './formats/bundle.ts';
export {
  BundleError,
  bundleFiles,
  bundleOfFiles,
  MOST_BUNDLE_BYTES,
  readBundle,
  resultName,
  writeBundle,
} from './formats/bundle.ts';
export { Rerun } from './formats/rerun.ts';

export { ENGINE_VERSION } from './engine/version.ts';
export type { Formula } from './mean-field/formula.ts';
export type { Equation } from './mean-field/equations.ts';

// Reports.
export type { Block, Line, Report, Section } from './report/document.ts';
export { paragraph, waitingPlaces } from './report/document.ts';
export type { MathNode } from './report/mathml.ts';
export { mathOfAssignment, mathOfEquation } from './report/mathml.ts';
export { checksSection } from './report/checks.ts';
export { placeWords } from './report/document.ts';
export { modelSections } from './report/model-report.ts';
export type { Quotable } from './report/quotes.ts';
export { filledWords, hasQuotes, quotables, withQuotes } from './report/quotes.ts';
export { repeatSection } from './report/repeat.ts';
export type { ReportFacts } from './report/html.ts';
export { reportHtml } from './report/html.ts';
export type { ReportMarkdown } from './report/markdown.ts';
export { reportMarkdown, reportMarkdownZip } from './report/markdown.ts';
export type { Rasterise } from './report/docx.ts';
export { reportDocx } from './report/docx.ts';
export { shownNumber, shownPercent } from './report/numbers.ts';
export { categoriesOf, combinationWords, factorWords, nameWithUnit, valueWords } from './report/value-words.ts';
export type { Tick } from './report/time-axis.ts';
export { stepsName, stepWords, tickText, timeTicks } from './report/time-axis.ts';
export { drawnRows, pathThrough } from './report/thinning.ts';
export type { KindLook, Rgb, Theme } from './report/palette.ts';
export {
  CLASS_COLOURS,
  classColour,
  colourOf,
  looksOf,
  measureColours,
  rgbOf,
  coloursOfField,
  optionOfLevel,
  scaleColours,
  seriesColour,
} from './report/palette.ts';
export type { ModelOfNow, Provenance, ReportedStudy, RunOnShow } from './report/provenance.ts';
export { provenanceOf, provenanceOfRun, seedsEach } from './report/provenance.ts';
export type { IndexPair } from './report/sensitivity-words.ts';
export { pairOf, ranked, sensitivitySentences, sensitivityTable } from './report/sensitivity-words.ts';
export type { PaperFacts, Sentence } from './report/match-words.ts';
export {
  paperParagraph,
  posteriorSentences,
  SCORE_WORDS,
  scoreCells,
  scoreNumber,
  searchWords,
  SHOWN_SCORES,
} from './report/match-words.ts';
export type { NamedBands } from './report/fan-picture.ts';
export type { StudyTold } from './report/results.ts';
export { errorBar } from './report/results.ts';
export type { ReportContents } from './report/project-report.ts';
export { projectReport } from './report/project-report.ts';
export type { StudyResultsAsked } from './report/told-study.ts';
export { measuresRead } from './report/concepts.ts';
export { seriesFact, toldStudy, usualMeasures } from './report/told-study.ts';
export type { PosteriorPaint, PosteriorWords } from './report/posterior-picture.ts';
export { posteriorPicture } from './report/posterior-picture.ts';
export { bandRows } from './report/fan-picture.ts';
