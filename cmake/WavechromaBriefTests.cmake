# Under sanitizers, where all takes five times as long, tests that run the same code over many rows of data run some of
# them: each function that reaches code of its own, with one row or two. Everything else, and everything in the ordinary
# round, runs whole.
set(WAVECHROMA_BRIEF_find_chart_test
    "findsTheChartAnyWayRound:turned 45" "findsTheChartAnyWayRound:tilted both ways, tungsten"
    "findsItFromATenthOfTheFrameToAllOfIt:a tenth" "everyChartOfTheCatalogueIsToldApart:double-24 turned 95"
    "everyChartOfTheCatalogueIsToldApart:field-140 turned 3" sayNoWhereThereIsNone)
set(WAVECHROMA_BRIEF_other_charts_test
    aGreyStripIsFoundAndNamed aPlainGridIsFoundByItsSize aGreyCardIsThePlainAreaThatIsGrey anEvenFieldIsTheWholeFrame
    "mishapsDoNotHideTheChart:several" threeCornersTellTheFourth farCornersAreNotDrawn)
set(WAVECHROMA_BRIEF_agreement_test
    "cameraProfileDoesWhatProveSays:lively" "cameraProfileDoesWhatProveSays:roots/greys"
    "iccProfileDoesWhatProveSays:roots/greys v2" "iccProfileDoesWhatProveSays:roots/as-shot v4"
    "cubeDoesWhatProveSays:field, log" twoLightsStandInOneProfile "everyCrossingReadsBackEqual:roots/greys"
    aBigEndianFrameTakesTheProfileToo brokenCubesAreRefused)
set(WAVECHROMA_BRIEF_take_task_test
    oneSetupForAll aLightThatCreepsBeginsOneToo whatCannotBeTakenIsNamed aStoppedTakeLeavesTheJobAsItWas)
set(WAVECHROMA_BRIEF_cli_test
    theWholePassFromAShell documentsFollowTheirSchemas exitStatusesAreTheContracts severalImagesMakeAnArray placedByHand
    twoSidesAreCompared aTiredLampIsTold
    balanceTakesAPatchAnAreaOrTheFrame failuresLeaveNoOutput inspectReadsEverythingWritten
    "everyCrossingGoesAllTheWay:field, channels" twoLightsMakeOneCalibration aCopyOfTheFrameCarriesTheProfile
    aChartFileStandsForItself aFlatIsNamedInTheReading)
set(WAVECHROMA_BRIEF_delivery_test
    aProbeReadsWhatProveSays "targetsComeInEveryForm:JSON, reflectance" "targetsComeInEveryForm:CSV with decimal commas"
    "targetsComeInEveryForm:CGATS" aProbeThatCannotBeSaysWhy placesAreSavedInTheJob brokenPlacesAndTargetsAreRefused
    aDryRunWritesNothing everyFormLeaves nothingOfSomebodyElsesIsReplaced aFullDiskIsToldAndLeftBehind brokenPlansAreRefused)
set(WAVECHROMA_BRIEF_shadow_edge_test
    "halvesAreToldApart:field-140, Osprey Mini, 1.3 stops" aBandIsToldToo whatIsTakenOutIsTheShadow
    patchesUnderTheEdgeBelongToNeither "nothingElseIsAShadow:Tarn 2, led" tooLittleToTell)
set(WAVECHROMA_BRIEF_flat_field_test
    aFalloffOfThirtyPercentGoesUnderOne dustDoesNotPrintThrough unfitFlatsAreRefusedWithTheReason
    flatsOfAnotherLensAreRefused)
set(WAVECHROMA_BRIEF_camera_match_test
    theFollowerComesCloserOnSurfacesNotFitted aProofsResultsAreTheReference onlySharedPatchesCount
    aChartWithoutKnownColoursWillDo clippedHighlightsAndDugUpShadowsAreSaid aRawReadingStandsBalanced)
set(WAVECHROMA_BRIEF_capture_checks_test
    aGoodFramePassesAll exposureIsInStopsFromTheAim aClippedWhiteSaysHowFarToCloseDown noisyPatchesAreNamed
    aWrongPatternStops "unevenLightIsToldBySideAndShare:left dark" "smoothLightIsNoShadow:a hot spot"
    withoutAChartOnlyFoundRuns)
set(WAVECHROMA_BRIEF_finished_pictures_test
    "pixelsHaveTheCalibrationsColours:field and greys" "pixelsHaveTheCalibrationsColours:JPEG"
    aJobRendersEachByWhatServesIt namesAreNumberedAndNothingIsReplaced whatCannotBeRightIsRefused)
set(WAVECHROMA_BRIEF_refusals_test
    whatCannotBeRightIsRefused "referencesAsPeopleHaveThem:quoted numbers with commas"
    "referencesAsPeopleHaveThem:Latin-1 in the heading" referencesForAnotherObserverAreRefused inputsAreNeverWrittenOver
    aLinkStaysALinkAndAPipeAPipe modesAreKept pathsThatCannotBeFollowedAreTold whatAKilledProgramLeftIsSwept
    aMissedAimIsAnAnswer aShadowIsInTheDocumentAndStopsTheFit aPresetIsOfItsLight aPictureWithoutAProfileIsToldAbout)
set(WAVECHROMA_BRIEF_render_test
    codesAreTheSameForAnyThreadsAndBands picturesAreTurnedUpright:7 "compiledColourIsTheModel:field/greys"
    codesAreTheSpacesOwn:oprgb smallerPicturesKeepLightAndPlace levelAndSeveralLightsCount whatTheSinkRefusesEndsIt)
set(WAVECHROMA_BRIEF_reader_process_test
    "framesAreTheSame:packed.dng" "framesAreTheSame:picture.jpg" refusalsAreTheSame oneThatDiesWhileItWaitsIsNotMissed
    memoryIsUsedAgain nothingIsLeftBehind whatComesBackIsNotBelieved aFilesOwnPictureIsRead)
set(WAVECHROMA_BRIEF_intake_test
    framesComeInTimeAndAreOneStep whatIsThereAlreadyIsNamed whatWaitsOutlivesAStop whatWaitsGoesWithItsJob
    smallPicturesAreKeptAndMadeAgain)
set(WAVECHROMA_BRIEF_delivery_editor_test
    framesLeaveOrStay deliveriesLieBesideEachOther thePlanFollowsTheJob itWritesOnceAndGoesOn aFullDiskIsTold)
set(WAVECHROMA_BRIEF_hostile_test
    brokenFilesAreAnswered filtersOfOtherColoursAreRefused aFileCutShortWhileItIsReadIsAnswered
    aFrameCutShortAfterItWasOpenedIsTold documentsOfAnyDepthAreAnswered valuesThatNoCameraSeesAreRefused
    namesThatCannotBePrintedAreRefused escapesInNamesOfFilesAreShown namesThatAreNotUtf8AreKept namesCannotBecomeFormulas
    aPipeThatNobodyWritesIntoIsTold damagedJobsAreRefused aJobWithoutAByteIsNone standardStreamsMayBeClosed
    "fewFilesOrLittleDiskIsTold:8 files" "fewFilesOrLittleDiskIsTold:40 kB")
set(WAVECHROMA_BRIEF_set_look_test "theSameLightIsHeld:Tarn 2 led" "aChangeIsTold:tungsten" brokenLooksAreNone)
set(WAVECHROMA_BRIEF_serve_task_test aGreyAloneServes whatSaysNothingOfWhiteIsRefused)
set(WAVECHROMA_BRIEF_own_charts_test
    "aLayoutIsFoundByItsPatternAlone:grid-5x7, 31" "itsOwnValuesTellTurnAndIdentity:double-24, 176"
    patchesMayLieAnywhere whatCannotBeUnderstoodIsRefused)
set(WAVECHROMA_BRIEF_fit_test
    findsTheTrueMatrixWhenOneExists equalBalancedRgbIsTheWhite crossValidationLeavesEachPatchOut balanceAgainChangesNothing
    clippedPatchesTakeNoPart tooFewPatchesAreRefused aGreyGivesABalanceAndNothingElse percentilesInterpolate)
set(WAVECHROMA_BRIEF_settle_test
    aCleanReadingStaysAsItIs anUnevenLightIsEvened aVeilIsTakenOff spoiltPatchesAreNamed fewPatchesAreLeftAlone)
set(WAVECHROMA_BRIEF_fit_task_test
    othersAreMergedAndNamed lightsJoinedAreOfOneCrossing chartsOfOneFrameAreOneSet thingsOfKnownColourJoinAndAreJudged
    theKeyFaceOfACubeIsWhite severalLooksAreWrittenApart fittingCanBeStopped)
set(WAVECHROMA_BRIEF_comparison_test
    theSameIsTheSame whatIsFarBetterIsSaidToBe aGainOfAProfileIsNoDifference whereTheyDifferIsTold)
set(WAVECHROMA_BRIEF_draw_together_test "unseenThingsComeCloserAndTruthIsKept:matrix" whatCannotBeDrawnIsRefused)
