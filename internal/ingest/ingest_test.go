package ingest

import (
	"bytes"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/app/fault"
	"turret/internal/app/kept"
	"turret/internal/core/calendar"
	"turret/internal/core/cost"
	"turret/internal/core/fact"
	"turret/internal/core/schedule"
	"turret/internal/record"
)

func read(t *testing.T, kind record.Kind, text string) (*kept.File, []fault.Problem) {
	t.Helper()
	f, problems, err := CSV("test.csv", kind, strings.NewReader(text))
	require.NoError(t, err)
	return f, problems
}

const ledger = "project,cost_code,date,amount\n"

// Each case is a whole file and what is said of it: row, column, value, and a part of the expectation.
func TestBadInputIsLocated(t *testing.T) {
	for _, c := range []struct {
		name  string
		kind  record.Kind
		text  string
		row   int32
		col   string
		value string
		want  string
	}{
		{"thousands in a file of decimal points", record.Actuals, ledger + "P,C,2026-01-02,1.5\nP,C,2026-01-02,\"1.234,50\"\n", 3, "amount",
			"1.234,50", "a number such as 1234.50"},
		{"points in a file of decimal commas", record.Actuals, "project;cost_code;date;amount\nP;C;2026-01-02;1,5\n" +
			strings.Repeat("P;C;2026-01-02;2,5\n", 9000) + "P;C;2026-01-02;1.5\n", 9003, "amount", "1.5", "1234,50, as in the rest"},
		{"30 February", record.Actuals, ledger + "P,C,2026-02-30,1\n", 2, "date", "2026-02-30", "a day of the calendar"},
		{"another order of dates", record.Actuals, ledger + "P,C,03.02.2026,1\n", 2, "date", "03.02.2026", "YYYY-MM-DD"},
		{"nothing in a required cell", record.Actuals, ledger + "P,,2026-02-03,1\n", 2, "cost_code", "", "a value"},
		{"a row too long", record.Actuals, ledger + "P,C,2026-02-03,1,9\n", 2, "", "9", "4 cells as in the head, found 5"},
		{"a quote left open", record.Actuals, ledger + "P,C,2026-02-03,1\n\"P,C,2026-02-03,1\n", 3, "", "", "quotes"},
		{"a column missing", record.Actuals, "project,cost_code,date\nP,C,2026-02-03\n", 1, "amount", "", "a column of this name"},
		{"a column twice", record.Actuals, "project,cost_code,date,amount,Amount\n", 1, "amount", "Amount", "once"},
		{"0 bytes", record.Actuals, "", 0, "", "", "the file is empty"},
		{"only blanks", record.Actuals, " \r\n \n", 0, "", "", "the file is empty"},
		{"not text", record.Actuals, "project\x00\x01\x02", 0, "", "", "this is not text"},
		{"a strange letter behind what is looked at", record.Projects, "code,name\n" + strings.Repeat("P,N\n", 20_000) + "Q,Gr\xfcn\n",
			20_002, "name", "Gr\ufffdn", "UTF-8"},
		{"a control character", record.Projects, "code,name\nP,a\x07b\n", 2, "name", "a\x07b", "control"},
		{"an unknown currency", record.Projects, "code,name,currency\nP,N,EURO\n", 2, "currency", "EURO", "ISO 4217"},
		{"an unknown word", record.Activities, "project,code,name,kind\nP,A,N,task\n", 2, "kind", "task", "one of activity, summary"},
		{"a percentage over 100", record.Activities, "project,code,name,percent_complete\nP,A,N,100.5\n", 2, "percent_complete", "100.5",
			"from 0 to 100"},
		{"half a working day", record.Activities, "project,code,name,duration\nP,A,N,2.5\n", 2, "duration", "2.5", "a whole number"},
		{"month and span", record.Budget, "project,cost_code,amount,month,from,to\nP,C,1,2026-01,2026-01-01,2026-02-01\n", 2, "month",
			"2026-01", "not both"},
		{"neither month nor span", record.Budget, "project,cost_code,amount\nP,C,1\n", 2, "month", "", "a month, or from and to"},
		{"half a span", record.Budget, "project,cost_code,amount,from\nP,C,1,2026-01-01\n", 2, "from", "2026-01-01", "both"},
		{"a span backwards", record.Budget, "project,cost_code,amount,from,to\nP,C,1,2026-02-01,2026-01-01\n", 2, "to", "2026-01-01",
			"on or after from"},
		{"a budget beyond all bounds", record.Budget, "project,cost_code,amount,month\nA,C,1,9999-12\n", 2, "month", "9999-12",
			"1980-01 to 2119-12"},
		{"a posting of long ago", record.Actuals, "project,cost_code,date,amount\nA,C,1900-01-01,1\n", 2, "date", "1900-01-01",
			"from 1980"},
		{"a share of more than all", record.Funding, "project,funder,percent\nA,F,100.5\n", 2, "percent", "100.5", "from 0 to 100"},
		{"a state that is none", record.Changes, "project,change,title,state\nA,C,t,maybe\n", 2, "state", "maybe",
			"requested, approved, refused"},
		{"hours in words", record.Timesheets, "person,project,date,hours\nP,A,2026-10-01,eight\n", 2, "hours", "eight", "a number"},
		{"a rate of nothing", record.Rates, "currency,month,rate\nSEK,2026-01,0\n", 2, "rate", "0", "above 0"},
		{"neither day nor weekday", record.Calendars, "calendar,working\ndefault,no\n", 2, "date", "", "either a date or a weekday"},
		{"finish before start", record.Projects, "code,name,planned_start,planned_finish\nP,N,2026-02-01,2026-01-01\n", 2, "planned_finish",
			"2026-01-01", "on or after planned_start"},
		{"an amount beyond all", record.Actuals, ledger + "P,C,2026-02-03,999999999999999999\n", 2, "amount", "999999999999999999",
			"smaller"},
	} {
		_, problems := read(t, c.kind, c.text)
		if assert.NotEmpty(t, problems, c.name) {
			p := problems[0]
			assert.Equal(t, []any{c.row, c.col, c.value}, []any{p.Row, p.Column, p.Value}, c.name)
			assert.Contains(t, p.Expected, c.want, c.name)
			assert.Equal(t, "test.csv", p.File)
		}
	}
}

func TestEveryProblemIsListedUpToALimit(t *testing.T) {
	_, problems := read(t, record.Actuals, ledger+"P,C,no,1\nP,C,2026-01-02,no\nP,C,no,no\n")
	assert.Len(t, problems, 4)
	_, problems = read(t, record.Actuals, ledger+strings.Repeat("P,C,no,1\n", 5000))
	assert.Len(t, problems, MaxProblems+1)
	assert.Contains(t, problems[MaxProblems].Expected, "was not read")
}

func TestDialects(t *testing.T) {
	for text, words := range map[string]string{
		ledger + "P,C,2026-01-02,1234.50\n": "UTF-8, separated by comma",
		"\ufeffProject;COST_CODE;Date;amount\r\nP;C;2026-01-02;1234,50\r\n": "UTF-8 with byte-order mark, CRLF, separated " +
			"by semicolon, decimal comma",
		"amount\tdate\tcost_code\tproject\tcolour\n1234.5\t2026-01-02\tC\tP\tred\n":    "UTF-8, separated by tab",
		ledger + "P,C,2026-01-02,\"1234,5\"\n":                                         "UTF-8, separated by comma, decimal comma",
		"project,cost_code,date,amount,note\n\n,,,,\nP,C,2026-01-02,1234.5,\"a\nb\"\n": "UTF-8, separated by comma",
	} {
		f, problems := read(t, record.Actuals, text)
		assert.Empty(t, problems, text)
		assert.Equal(t, words, f.Recognised)
		if assert.Len(t, f.Postings, 1) {
			p := f.Postings[0]
			assert.Equal(t, []any{"P", "C", int64(12345000), calendar.On(2026, 1, 2)}, []any{p.Project, p.CostCode, p.Units, p.Date})
		}
	}
	f, _ := read(t, record.Actuals, "project,cost_code,date,amount,Colour\nP,C,2026-01-02,1,red\n")
	assert.Equal(t, []string{"Colour"}, f.Ignored)
}

// Rows are those of a spreadsheet: a line break inside a cell begins no row, an empty line is one.
func TestRowsAreCountedAsASpreadsheetDoes(t *testing.T) {
	f, problems := read(t, record.Projects, "code,name\nA,\"one\ntwo\"\n\nB,three\n")
	assert.Empty(t, problems)
	require.Len(t, f.Projects, 2)
	assert.Equal(t, []int32{2, 4}, []int32{f.Projects[0].Row, f.Projects[1].Row})
}

func TestTextsAreTakenAsTheyAre(t *testing.T) {
	f, problems := read(t, record.Projects, "code,name\nA,\"=HYPERLINK(\"\"x\"\")\"\nB,<script>alert(1)</script>\n")
	require.Len(t, problems, 0)
	assert.Equal(t, `=HYPERLINK("x")`, f.Projects[0].Name)
	assert.Equal(t, `<script>alert(1)</script>`, f.Projects[1].Name)
}

func TestRowsOfEveryKind(t *testing.T) {
	f, _ := read(t, record.Activities,
		"project,code,name,kind,report_to,baseline_finish,percent_complete,remaining,weight,ev_method,calendar\n"+
			"P,M,Gate,milestone,Portfolio,2026-05-01,12.5,0,2.5,0/100,night\n")
	a := f.Activities[0]
	assert.Equal(t, schedule.Milestone, a.Activity.Kind)
	assert.Equal(t, schedule.PortfolioLevel, a.Activity.Level)
	assert.Equal(t, []fact.Int{fact.Some(1250), fact.Some(0), fact.Some(25000), {}}, []fact.Int{a.Activity.Percent, a.Activity.Remaining,
		a.Weight, a.Low})
	assert.Equal(t, []string{"0/100", "night"}, []string{a.EVMethod, a.Calendar})

	f, _ = read(t, record.Forecast, "project,cost_code,amount,from,to,profile,currency\nP,C,-5,2026-01-01,2026-02-01,bell,SEK\n")
	assert.Equal(t, []any{int64(-50000), uint8(cost.Bell), "SEK"}, []any{f.Lines[0].Units, f.Lines[0].Profile, string(f.Lines[0].Currency)})

	f, _ = read(t, record.Links, "project,from,to,type,lag,to_project\nP,A,B,ss,-3,Q\n")
	assert.Equal(t, kept.LinkRow{Row: 2, Project: "P", From: "A", To: "B", Type: "SS", Lag: -3, ToProject: "Q"}, f.Links[0])

	f, _ = read(t, record.Projects, "code,name,earned_value,schedule_mode,status\nP,N,no,driven,closed\nQ,N,,,\n")
	assert.Equal(t, []any{false, true, "closed"}, []any{f.Projects[0].EarnedValue, f.Projects[0].Driven, f.Projects[0].Status})
	assert.Equal(t, []any{true, false, "open"}, []any{f.Projects[1].EarnedValue, f.Projects[1].Driven, f.Projects[1].Status})
}

func TestKindFromName(t *testing.T) {
	for name, want := range map[string]record.Kind{"actuals.csv": record.Actuals, "Actuals-2026-10.CSV": record.Actuals,
		"cost_codes.csv": record.CostCodes,
		"status 3.csv":   record.Statuses, "budgets.csv": "", "README.md": "", "my budget.csv": ""} {
		got, _ := KindOf(name)
		assert.Equal(t, want, got, name)
	}
}

func TestTooLargeIsRefusedWhileReading(t *testing.T) {
	endless := &repeat{line: []byte("P,C,2026-01-02,1\n"), head: []byte(ledger)}
	_, problems, err := CSV("big.csv", record.Actuals, endless)
	require.NoError(t, err)
	require.Len(t, problems, 1)
	assert.Regexp(t, "at most 100 MB|at most 2000000 rows", problems[0].Expected)
	assert.Less(t, endless.given, MaxBytes+1<<20)
}

type repeat struct {
	head, line []byte
	given      int
}

func (r *repeat) Read(p []byte) (int, error) {
	if r.given == 0 {
		r.given = copy(p, r.head)
		return r.given, nil
	}
	n := copy(p, bytes.Repeat(r.line, max(1, len(p)/len(r.line))))
	n -= n % len(r.line)
	r.given += n
	return n, nil
}

func FuzzCSV(f *testing.F) {
	f.Add([]byte(ledger+"P,C,2026-01-02,1\n"), uint8(9))
	f.Add([]byte("\ufeffcode;name\r\n\"a\"\";\n\x00"), uint8(4))
	f.Fuzz(func(t *testing.T, data []byte, k uint8) {
		kind := record.Kinds()[int(k)%len(record.Kinds())]
		file, problems, err := CSV("f.csv", kind, bytes.NewReader(data))
		if err != nil || len(problems) > MaxProblems+1 {
			t.Fatalf("%v, %d problems", err, len(problems))
		}
		if file.Rows > bytes.Count(data, []byte("\n"))+1 {
			t.Fatalf("%d rows of %d lines", file.Rows, bytes.Count(data, []byte("\n")))
		}
	})
}
