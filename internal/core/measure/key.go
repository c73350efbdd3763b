package measure

import "strings"

// Key names a measure of the catalogue. The zero value names none.
type Key uint8

// The keys, in the order of the catalogue.
const (
	None Key = iota
	BAC
	BudgetToDate
	AC
	ForecastToGo
	ForecastTotal
	PV
	EV
	WorkDone
	CV
	SV
	CPI
	SPI
	PercentComplete
	PercentPlanned
	EACByCPI
	EACAtBudgetRate
	EACByCPIAndSPI
	EarnedSchedule
	ActualTime
	SVInTime
	SPIInTime
	FinishByES
	EAC
	EACDeclared
	VAC
	VACShare
	SpentShare
	RemainingBudget
	SpentToDateShare
	TCPIToBAC
	TCPIToEAC
	BudgetOriginal
	BudgetChanges
	ChangesRequested
	DaysRequested
	Commitments
	CommittedShare
	ACAtPlan
	RateVariance
	VolumeVariance
	Contingency
	ContingencyDrawn
	ContingencyLeft
	BACCapital
	BACOperating
	ACCapital
	ACOperating
	EACCapital
	EACOperating
	RunRate
	BudgetOut
	YearBudget
	YearActual
	YearToGo
	YearOutlook
	CarryOver
	LabourHours
	HoursPlanned
	HoursToGo
	HoursActual
	LabourCost
	BillableValue
	Revenue
	Billed
	RevenueRemaining
	Margin
	MarginPlanned
	MarginToDate
	Granted
	Received
	FundingAhead
	BaselineStart
	BaselineFinish
	ExpectedFinish
	PlannedDuration
	TimePassed
	BudgetShort
	FinishDeviation
	FinishShare
	MilestonesDone
	MilestonesMissed
	MilestonesSlipping
	ComputedFinish
	FinishFloat
	ActivitiesOpen
	ActivitiesCritical
	CriticalShare
	ActivitiesFinished
	ActivitiesPromised
	WorkFinished
	WorkPromised
	BEI
	LateStarts
	LateFinishes
	MissedPortfolio
	MissedProgramme
	MissedProject
	SlippingPortfolio
	SlippingProgramme
	SlippingProject
	LongestSlip
	LooseEnds
	Leads
	LongLags
	HardConstraints
	HighFloat
	LongDurations
	ScopeAddedShare
	RisksOpen
	RiskExposure
	RiskExposureAfter
	RiskExpected
	RiskExpectedAfter
	RiskDays
	RiskDaysAfter
	RiskExpectedShare
	IssuesOpen
	IssuesLate
	IssuesOverdue
	ActionsOpen
	ActionsOverdue
	ActionsLate
	DecisionsOpen
	BacklogTotal
	BacklogPoints
	BacklogAccepted
	BacklogRemaining
	BacklogAdded
	BacklogRemoved
	BacklogUnplanned
	BacklogShare
	VelocityLow
	VelocityMean
	VelocityHigh
	BacklogFinishLow
	BacklogFinishMean
	BacklogFinishHigh
	LateItems
	LatePoints
	LateShare
	BenefitPlanned
	BenefitForecast
	BenefitOutlook
	BenefitDue
	BenefitAchieved
	RealisedShare
	BenefitShortfall
	NPV
	BenefitCostRatio
	Payback
	EVRecent
	ACRecent
	CPIRecent
	EACByRecent
	ETCGap
	TCPIGap
	ScheduleHealth
	CostHealth
	ScopeHealth
	RiskHealth
	BenefitHealth
	OverallHealth
	ComputedHealth
	DeclaredHealth
	OpinionSteps
	Errors
	Warnings
	Notices
	ChecksFailed
	ChecksTested
	DataScore
	keyCount
)

// String is the key as addresses, conditions and files write it; empty for None.
func (k Key) String() string { return Of(k).text }

// Texts are keys as addresses, conditions and files write them.
func Texts(list ...Key) []string {
	out := make([]string, len(list))
	for i, k := range list {
		out[i] = k.String()
	}
	return out
}

// KeyOf reads a key; None where no measure is called so.
func KeyOf(text string) Key { return byText[text] }

// KeysOf reads keys with commas or spaces between them; without any they are those of the whole catalogue. The second result is the
// first word that names no measure, empty where all do.
func KeysOf(text string) (list []Key, wrong string) {
	for _, word := range strings.FieldsFunc(text, func(r rune) bool { return r == ',' || r == ' ' }) {
		key := KeyOf(word)
		if key == None {
			return nil, word
		}
		list = append(list, key)
	}
	if list == nil {
		for i := range catalogue {
			list = append(list, catalogue[i].Key)
		}
	}
	return list, ""
}

// MarshalText writes the key as files hold it.
func (k Key) MarshalText() ([]byte, error) { return []byte(k.String()), nil }
