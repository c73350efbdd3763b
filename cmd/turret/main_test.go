package main

import (
	"bytes"
	"context"
	"encoding/csv"
	"encoding/json"
	"io"
	"net/http"
	"net/http/cookiejar"
	"net/url"
	"os"
	"path/filepath"
	"regexp"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// run executes a command line and returns what it printed and its exit status.
func run(t *testing.T, args ...string) (out, errs string, code int) {
	t.Helper()
	var o, e bytes.Buffer
	c := root()
	c.SetOut(&o)
	c.SetErr(&e)
	c.SetArgs(args)
	err := c.ExecuteContext(context.Background())
	if err != nil {
		e.WriteString(err.Error())
	}
	return o.String(), e.String(), status(err)
}

const example = "../../examples/three-jobs"

func loaded(t *testing.T) string {
	t.Helper()
	db := filepath.Join(t.TempDir(), "three.db")
	_, errs, code := run(t, "init", "--db", db)
	require.Zero(t, code, errs)
	out, errs, code := run(t, "import", "--db", db, example)
	require.Zero(t, code, errs)
	assert.Contains(t, out, "forecast.csv, 4 rows of forecast (UTF-8, separated by semicolon, decimal comma)")
	assert.Contains(t, out, "calculation.md: not named after a kind")
	assert.Empty(t, errs, "no warning")
	return db
}

// The figures of examples/three-jobs/calculation.md.
var byHand = map[string]string{
	"BR-1": "bac 56500.00 budget_to_date 41000.00 ac 41795.25 forecast_to_go 19600.05 forecast_total 22200.05 pv 41000.00 ev 27560.98 " +
		"work_done 27560.98 cv -14234.27 sv -13439.02 cpi 0.659429 spi 0.672219 percent_complete 0.487805 percent_planned 0.725664 " +
		"eac_cpi 85680.25 eac_budget_rate 70734.27 eac_cpi_spi 107079.03 es 1.716775 at 2.590909 sv_t -0.874134 spi_t 0.662615 " +
		"finish_es 2026-07-01 " +
		"eac 61395.30 eac_declared 61395.30 vac -4895.30 vac_share -0.086642 " +
		"spent_share 0.739739 remaining_budget 14704.75 spent_to_date_share 0.019396 tcpi_bac 1.968005 tcpi_eac 1.476477 " +
		"budget_original 54500.00 budget_changes 2000.00 changes_requested 1500.00 days_requested 5 commitments 3900.00 " +
		"committed_share 0.808765 ac_at_plan 41540.25 rate_variance -255.00 volume_variance -4640.30 contingency - contingency_drawn " +
		"- contingency_left - bac_capital 56500.00 bac_operating 0.00 ac_capital 41795.25 ac_operating 0.00 eac_capital 61395.30 " +
		"eac_operating 0.00 run_rate 11931.75 budget_out 2026-04-30 year_budget 56500.00 year_actual 41795.25 year_to_go 19600.05 " +
		"year_outlook 61395.30 carry_over -4895.30 labour_hours 19.5 " +
		"hours_planned - hours_to_go - hours_actual 19.5 labour_cost 908.00 billable_value 487.50 revenue - billed - " +
		"revenue_remaining - margin - margin_planned - margin_to_date - granted 62600.00 received 40000.00 funding_ahead -1795.25 " +
		"baseline_start 2026-01-05 baseline_finish 2026-04-30 " +
		"expected_finish 2026-05-07 planned_duration 82 time_passed 0.646341 budget_short 1 finish_deviation 5 finish_share 0.060976 " +
		"milestones_done 1 milestones_missed 0 " +
		"milestones_slipping 1 computed_finish 2026-05-07 finish_float 0 activities_open 2 activities_critical 1 critical_share " +
		"0.500000 activities_finished 2 activities_promised 2 work_finished 1 work_promised 1 bei 1.000000 late_starts 1 late_finishes 1 " +
		"missed_portfolio 0 missed_programme 0 missed_project 0 slipping_portfolio 1 slipping_programme 0 slipping_project 0 " +
		"longest_slip 5 " +
		"loose_ends 1 leads 0 long_lags 0 hard_constraints 0 high_float 0 long_durations 1 " +
		"scope_added_share 0.000000 risks_open - risk_exposure - " +
		"risk_exposure_after - risk_expected - risk_expected_after - risk_days - risk_days_after - " +
		"risk_expected_share - issues_open - issues_late - issues_overdue - actions_open - actions_overdue - actions_late - " +
		"decisions_open - " +
		"" + none +
		"ev_recent - ac_recent - cpi_recent - eac_recent - etc_gap - tcpi_gap 0.817048 " +
		"schedule_health act cost_health act scope_health on_track risk_health not_assessed benefit_health not_assessed " +
		"overall_health act computed_health act declared_health on_track opinion_steps 2 errors 0 warnings 4 notices 2 checks_failed " +
		"10 checks_tested 213 data_score 95.305164",
	"BR-2": "bac 12000.00 budget_to_date 6387.10 ac 6750.10 forecast_to_go 5000.00 forecast_total 5000.00 pv - ev - work_done - cv - " +
		"sv - cpi - spi - percent_complete - percent_planned - eac_cpi - eac_budget_rate - eac_cpi_spi - es - at - sv_t - spi_t - " +
		"finish_es - " +
		"eac 11750.10 eac_declared 11750.10 vac 249.90 vac_share 0.020825 " +
		"spent_share 0.562508 remaining_budget 5249.90 spent_to_date_share 0.056833 tcpi_bac - tcpi_eac - budget_original 12000.00 " +
		"budget_changes 0.00 changes_requested 0.00 days_requested 0 commitments - committed_share - ac_at_plan 6750.10 rate_variance " +
		"0.00 volume_variance 249.90 contingency - contingency_drawn - contingency_left - bac_capital 12000.00 bac_operating 0.00 " +
		"ac_capital 6750.10 ac_operating 0.00 eac_capital 11750.10 eac_operating 0.00 run_rate 0.00 budget_out - year_budget 12000.00 " +
		"year_actual 6750.10 year_to_go 5000.00 year_outlook 11750.10 carry_over 249.90 labour_hours - " +
		"hours_planned - hours_to_go - hours_actual - labour_cost - billable_value - " +
		"revenue 15000.00 billed 9000.00 revenue_remaining 6000.00 margin 0.216660 margin_planned 0.200000 margin_to_date 0.249989 " +
		"granted - received - funding_ahead - " +
		"baseline_start 2026-02-02 baseline_finish 2026-04-30 " +
		"expected_finish 2026-04-30 planned_duration 62 time_passed 0.532258 budget_short - finish_deviation 0 finish_share 0.000000 " +
		"milestones_done 0 milestones_missed 1 " +
		"milestones_slipping 0 computed_finish 2026-04-30 finish_float 0 activities_open 2 activities_critical 1 critical_share " +
		"0.500000 activities_finished 0 activities_promised 1 work_finished 0 work_promised 0 bei - late_starts 0 late_finishes 0 " +
		"missed_portfolio 0 missed_programme 1 missed_project 0 slipping_portfolio 0 slipping_programme 0 slipping_project 0 " +
		"longest_slip 5 " +
		"loose_ends 1 leads 0 long_lags 0 hard_constraints 0 high_float 0 long_durations 1 " +
		"scope_added_share 0.000000 risks_open - risk_exposure - " +
		"risk_exposure_after - risk_expected - risk_expected_after - risk_days - risk_days_after - " +
		"risk_expected_share - issues_open - issues_late - issues_overdue - actions_open - actions_overdue - actions_late - " +
		"decisions_open - " +
		"" + none +
		"ev_recent - ac_recent - cpi_recent - eac_recent - etc_gap - tcpi_gap - " +
		"schedule_health watch cost_health watch scope_health on_track risk_health not_assessed benefit_health not_assessed " +
		"overall_health watch computed_health watch declared_health act opinion_steps -1 errors 0 warnings 3 notices 1 checks_failed " +
		"7 checks_tested 139 data_score 94.964029",
	"BR-3": "bac 22000.00 budget_to_date 13000.00 ac 1000.00 forecast_to_go - forecast_total - pv 13000.00 ev - work_done - cv - sv - " +
		"cpi - spi - percent_complete - percent_planned 0.590909 eac_cpi - eac_budget_rate - eac_cpi_spi - es - at - sv_t - spi_t - " +
		"finish_es - " +
		"eac - eac_declared - vac - vac_share - spent_share 0.045455 " +
		"remaining_budget 21000.00 spent_to_date_share -0.923077 tcpi_bac - tcpi_eac - budget_original 22000.00 budget_changes 0.00 " +
		"changes_requested 0.00 days_requested 0 commitments - committed_share - ac_at_plan 1000.00 rate_variance 0.00 " +
		"volume_variance - contingency 2000.00 contingency_drawn 500.00 contingency_left 1500.00 bac_capital 20500.00 bac_operating " +
		"1500.00 ac_capital 1000.00 ac_operating 0.00 eac_capital - eac_operating - run_rate 0.00 budget_out - year_budget 22000.00 " +
		"year_actual 1000.00 year_to_go - year_outlook - carry_over - labour_hours - " +
		"hours_planned - hours_to_go - hours_actual - labour_cost - billable_value - revenue - billed " +
		"- revenue_remaining - margin - margin_planned - margin_to_date - granted - received - funding_ahead - " +
		"baseline_start 2026-03-02 baseline_finish 2026-06-30 expected_finish - " +
		"planned_duration 85 time_passed 0.152941 budget_short - finish_deviation - finish_share - milestones_done - " +
		"milestones_missed - milestones_slipping - " +
		"computed_finish - finish_float - activities_open - activities_critical - critical_share - activities_finished - " +
		"activities_promised - work_finished - work_promised - bei - late_starts - late_finishes - missed_portfolio - " +
		"missed_programme - missed_project - slipping_portfolio - slipping_programme - slipping_project - longest_slip - loose_ends - " +
		"leads - long_lags - hard_constraints - high_float - long_durations - " +
		"scope_added_share - risks_open - risk_exposure - risk_exposure_after - " +
		"risk_expected - risk_expected_after - risk_days - risk_days_after - " +
		"risk_expected_share - issues_open - issues_late - issues_overdue - actions_open - actions_overdue - actions_late - " +
		"decisions_open - " +
		"" + none +
		"ev_recent - ac_recent - cpi_recent - eac_recent - etc_gap - tcpi_gap - " +
		"schedule_health not_assessed cost_health not_assessed scope_health not_assessed risk_health not_assessed benefit_health " +
		"not_assessed overall_health not_assessed computed_health not_assessed declared_health - opinion_steps - errors 1 warnings 0 " +
		"notices 0 checks_failed 5 checks_tested 60 data_score 91.666667",
	"*": "bac 90500.00 budget_to_date 60387.10 ac 49545.35 forecast_to_go 24600.05 forecast_total 27200.05 pv 54000.00 ev 27560.98 " +
		"work_done 27560.98 cv -14234.27 sv -13439.02 cpi 0.659429 spi 0.672219 percent_complete 0.487805 percent_planned 0.687898 " +
		"eac_cpi 85680.25 eac_budget_rate 70734.27 eac_cpi_spi 107079.03 es 1.716775 at 2.590909 sv_t -0.874134 spi_t 0.662615 " +
		"finish_es 2026-07-01 " +
		"eac 73145.40 eac_declared 73145.40 vac -4645.40 vac_share -0.067816 " +
		"spent_share 0.547462 remaining_budget 40954.65 spent_to_date_share -0.179538 tcpi_bac 1.968005 tcpi_eac 1.476477 " +
		"budget_original 88500.00 budget_changes 2000.00 changes_requested 1500.00 days_requested 5 commitments 3900.00 " +
		"committed_share 0.808765 ac_at_plan 49290.35 rate_variance -255.00 volume_variance -4390.40 contingency 2000.00 " +
		"contingency_drawn 500.00 contingency_left 1500.00 bac_capital 89000.00 bac_operating 1500.00 ac_capital 49545.35 " +
		"ac_operating 0.00 eac_capital 73145.40 eac_operating 0.00 run_rate 11931.75 budget_out 2026-07-31 year_budget 90500.00 " +
		"year_actual 49545.35 year_to_go 24600.05 year_outlook 73145.40 carry_over -4645.40 labour_hours 19.5 " +
		"hours_planned - hours_to_go - hours_actual 19.5 labour_cost 908.00 " +
		"billable_value 487.50 revenue 15000.00 billed 9000.00 revenue_remaining 6000.00 margin 0.216660 margin_planned 0.200000 " +
		"margin_to_date 0.249989 granted 62600.00 received 40000.00 funding_ahead -1795.25 " +
		"baseline_start 2026-01-05 baseline_finish 2026-06-30 " +
		"expected_finish 2026-05-07 planned_duration 125 time_passed 0.424000 budget_short 1 finish_deviation 5 finish_share 0.060976 " +
		"milestones_done 1 milestones_missed 1 " +
		"milestones_slipping 1 computed_finish 2026-05-07 finish_float 0 activities_open 4 activities_critical 2 critical_share " +
		"0.500000 activities_finished 2 activities_promised 3 work_finished 1 work_promised 1 bei 1.000000 late_starts 1 late_finishes 1 " +
		"missed_portfolio 0 missed_programme 1 missed_project 0 slipping_portfolio 1 slipping_programme 0 slipping_project 0 " +
		"longest_slip 5 " +
		"loose_ends 2 leads 0 long_lags 0 hard_constraints 0 high_float 0 long_durations 2 " +
		"scope_added_share 0.000000 risks_open - risk_exposure - " +
		"risk_exposure_after - risk_expected - risk_expected_after - risk_days - risk_days_after - " +
		"risk_expected_share - issues_open - issues_late - issues_overdue - actions_open - actions_overdue - actions_late - " +
		"decisions_open - " +
		"" + none +
		"ev_recent - ac_recent - cpi_recent - eac_recent - etc_gap - tcpi_gap 0.817048 " +
		"schedule_health act cost_health act scope_health on_track risk_health not_assessed benefit_health not_assessed " +
		"overall_health act computed_health act declared_health on_track opinion_steps 2 errors 1 warnings 7 notices 3 checks_failed " +
		"22 checks_tested 412 data_score 94.660194",
}

// none are measures of backlogs and benefits that nobody has.
const none = "backlog_total - backlog_points - backlog_accepted - backlog_remaining - backlog_added - backlog_removed - backlog_unplanned - " +
	"backlog_share - velocity_low - velocity_mean - velocity_high - backlog_finish_low - backlog_finish_mean - backlog_finish_high - " +
	"late_items - late_points - late_share - benefit_planned - benefit_forecast - benefit_outlook - benefit_due - benefit_achieved - " +
	"realised_share - benefit_shortfall - npv - benefit_cost_ratio - payback - "

func TestMeasuresAgreeWithTheCalculationByHand(t *testing.T) {
	db := loaded(t)
	out, errs, code := run(t, "measures", "--db", db, "--as-of", "2026-03-18")
	require.Zero(t, code, errs)
	rows, err := csv.NewReader(strings.NewReader(out)).ReadAll()
	require.NoError(t, err)
	require.Len(t, rows, 5)
	assert.Equal(t, []string{"project", "as_of", "currency", "bac"}, rows[0][:4])
	for _, row := range rows[1:] {
		assert.Equal(t, []string{"2026-03-18", "EUR"}, row[1:3])
		want := strings.Fields(byHand[row[0]])
		require.Len(t, want, 2*(len(row)-3), row[0])
		for i, cell := range row[3:] {
			expected := strings.ReplaceAll(want[2*i+1], "_", " ")
			if expected == "-" {
				expected = ""
			}
			assert.Equal(t, want[2*i], rows[0][i+3])
			assert.Equal(t, expected, cell, "%s of %s", want[2*i], row[0])
		}
	}
	out, _, code = run(t, "measures", "--db", db, "--as-of", "2026-03-18", "--keys", "eac,declared_health", "--scope", "BR-3", "--format",
		"json")
	require.Zero(t, code)
	var list []map[string]any
	require.NoError(t, json.Unmarshal([]byte(out), &list))
	assert.Len(t, list, 2)
	assert.Nil(t, list[0]["eac"])
}

func TestTraceReachesTheRow(t *testing.T) {
	db := loaded(t)
	out, errs, code := run(t, "trace", "--db", db, "--as-of", "2026-03-18", "--project", "BR-1", "--measure", "vac")
	require.Zero(t, code, errs)
	for _, line := range []string{"Variance at completion: −€4,895.30", "2026-02-16, D-3: €4,845.00; 51,000.00 SEK at 0.095; load",
		"actuals.csv, row 4", "part of €4,400.00: 13 of 22 working days passed", "Rate of SEK in 2026-02: 0.095", "rates.csv, row 3"} {
		assert.Contains(t, out, line)
	}
	assert.NotContains(t, out, "D-5", "posted after the as-of date")
}

func TestWrongUsageAndBadInputAreToldApart(t *testing.T) {
	db := loaded(t)
	for _, args := range [][]string{{"measures", "--db", db}, {"measures", "--db", db, "--as-of", "31.3.2026"},
		{"measures", "--db", db, "--as-of", "2026-03-18", "--keys", "nonsense"}, {"nonsense"}, {"import", "--db", db},
		{"import", "--db", db, "--kind", "nonsense", example}, {"init", "--db", db + "x", "--currency", "XXQ"}} {
		_, errs, code := run(t, args...)
		assert.Equal(t, 2, code, "%v: %s", args, errs)
	}
	for _, args := range [][]string{{"measures", "--db", db + "none", "--as-of", "2026-03-18"}, {"import", "--db", db, "no-such-file.csv"},
		{"measures", "--db", db, "--as-of", "2026-03-18", "--scope", "NONE"}, {"init", "--db", db},
		{"trace", "--db", db, "--as-of", "2026-03-18", "--project", "BR-1", "--measure", "nonsense"}} {
		_, errs, code := run(t, args...)
		assert.Equal(t, 1, code, "%v", args)
		assert.NotEmpty(t, errs)
	}
}

func TestRefusedLoadChangesNothing(t *testing.T) {
	db := loaded(t)
	before, _, _ := run(t, "measures", "--db", db, "--as-of", "2026-03-18")
	dir := t.TempDir()
	write := func(name, text string) {
		require.NoError(t, os.WriteFile(filepath.Join(dir, name), []byte(text), 0o600))
	}
	write("budget.csv", "project,cost_code,amount,month\nBR-1,1,1.00,2026-01\n")
	write("actuals.csv", "project,cost_code,date,amount\nBR-1,1,2026-02-30,1.00\nNONE,1,2026-02-03,1.00\n")
	_, errs, code := run(t, "import", "--db", db, dir)
	assert.Equal(t, 1, code)
	assert.Contains(t, errs, `actuals.csv, row 2, column date: "2026-02-30": expected a day of the calendar`)
	write("actuals.csv", "project,cost_code,date,amount\nNONE,1,2026-02-03,1.00\n")
	_, errs, code = run(t, "import", "--db", db, dir)
	assert.Equal(t, 1, code)
	assert.Contains(t, errs, `actuals.csv, row 2, column project: "NONE": expected the code of a project`)
	_, errs, code = run(t, "import", "--db", db, filepath.Join(example, "actuals.csv"))
	assert.Equal(t, 1, code)
	assert.Contains(t, errs, "the same file is load")
	after, _, _ := run(t, "measures", "--db", db, "--as-of", "2026-03-18")
	assert.Equal(t, before, after, "the good file of a refused import is not taken in either")
}

func TestASecondLoadIsANewRevisionOfItsProjectsOnly(t *testing.T) {
	db := loaded(t)
	file := filepath.Join(t.TempDir(), "forecast-april.csv")
	require.NoError(t, os.WriteFile(file, []byte("project,cost_code,amount,month\nBR-2,1,6000.00,2026-04\n"), 0o600))
	_, errs, code := run(t, "import", "--db", db, "--dry-run", file)
	require.Zero(t, code, errs)
	figures := func() string {
		out, _, _ := run(t, "measures", "--db", db, "--as-of", "2026-03-18", "--keys", "forecast_to_go")
		return out
	}
	assert.Contains(t, figures(), "BR-2,2026-03-18,EUR,5000.00", "a dry run writes nothing")
	_, errs, code = run(t, "import", "--db", db, file)
	require.Zero(t, code, errs)
	assert.Contains(t, figures(), "BR-2,2026-03-18,EUR,6000.00")
	assert.Contains(t, figures(), "BR-1,2026-03-18,EUR,19600.05")
}

func TestMissingRateIsNamedAndLeavesFiguresEmpty(t *testing.T) {
	db := loaded(t)
	file := filepath.Join(t.TempDir(), "actuals-gbp.csv")
	require.NoError(t, os.WriteFile(file, []byte("project,cost_code,date,amount,currency\nBR-1,1,2026-02-03,1.00,GBP\n"), 0o600))
	_, errs, code := run(t, "import", "--db", db, file)
	assert.Zero(t, code)
	assert.Contains(t, errs, `row 2, column currency: "GBP": expected a rate; there is no month rate for GBP in 2026-02`)
	out, errs, _ := run(t, "measures", "--db", db, "--as-of", "2026-03-18", "--keys", "ac,bac,eac")
	assert.Contains(t, errs, "project BR-1: no month rate for GBP in 2026-02")
	assert.Contains(t, out, "BR-1,2026-03-18,EUR,,56500.00,\n")
	assert.Contains(t, out, "*,2026-03-18,EUR,7750.10,90500.00,11750.10\n", "the others still add up")
}

// waiter collects what a running command prints and lets a test wait for it.
type waiter struct {
	mu   sync.Mutex
	text string
}

func (w *waiter) Write(p []byte) (int, error) {
	w.mu.Lock()
	defer w.mu.Unlock()
	w.text += string(p)
	return len(p), nil
}

func (w *waiter) find(pattern string) string {
	w.mu.Lock()
	defer w.mu.Unlock()
	return regexp.MustCompile(pattern).FindString(w.text)
}

// The server listens on loopback where no host is named, answers, refuses names that are not this machine's, and ends in
// good order when told to.
func TestServe(t *testing.T) {
	db := loaded(t)
	ctx, stop := context.WithCancel(context.Background())
	defer stop()
	var out waiter
	c := root()
	c.SetOut(&out)
	c.SetArgs([]string{"serve", "--db", db, "--addr", ":0", "--as-of", "2026-03-18"})
	done := make(chan error, 1)
	go func() { done <- c.ExecuteContext(ctx) }()
	require.Eventually(t, func() bool { return out.find(`http://127\.0\.0\.1:\d+`) != "" }, time.Minute, 20*time.Millisecond)
	base := out.find(`http://127\.0\.0\.1:\d+`)
	jar, err := cookiejar.New(nil)
	require.NoError(t, err)
	client := &http.Client{Jar: jar}
	code := strings.TrimPrefix(out.find(`code=\w+`), "code=")
	for _, wrong := range []string{"", "WRONG"} {
		resp, err := client.PostForm(base+"/begin", url.Values{"code": {wrong}, "login": {"ada"}, "name": {"Ada"},
			"password": {"a long enough one"}})
		require.NoError(t, err)
		_ = resp.Body.Close()
		assert.Equal(t, 422, resp.StatusCode, "the first administrator needs the code")
	}
	resp, err := client.PostForm(base+"/begin", url.Values{"code": {code}, "login": {"ada"}, "name": {"Ada"},
		"password": {"a long enough one"}})
	require.NoError(t, err)
	_ = resp.Body.Close()
	assert.Equal(t, 200, resp.StatusCode)
	body := func(host, path string) (int, string) {
		r, err := http.NewRequest(http.MethodGet, base+path, nil)
		require.NoError(t, err)
		if host != "" {
			r.Host = host
		}
		resp, err := client.Do(r)
		require.NoError(t, err)
		defer resp.Body.Close()
		b, err := io.ReadAll(resp.Body)
		require.NoError(t, err)
		return resp.StatusCode, string(b)
	}
	status, page := body("", "/")
	assert.Equal(t, 200, status)
	assert.Contains(t, page, "3 open projects are forecast to cost", "the example's three jobs")
	status, page = body("", "/projects/BR-1?trace=vac")
	assert.Equal(t, 200, status)
	assert.Contains(t, page, "−€4,895.30")
	status, pdf := body("", "/pack.pdf")
	assert.Equal(t, 200, status)
	assert.True(t, strings.HasPrefix(pdf, "%PDF-"))
	status, page = body("evil.example", "/")
	assert.Equal(t, 421, status)
	assert.NotContains(t, page, "Foot bridge")
	stop()
	select {
	case err := <-done:
		assert.NoError(t, err)
	case <-time.After(time.Minute):
		t.Fatal("the server does not end")
	}
}

func TestPackFromTheCommandLineIsThatOfThePage(t *testing.T) {
	db := loaded(t)
	file := filepath.Join(t.TempDir(), "pack.pdf")
	_, errs, code := run(t, "export", "--db", db, "--as-of", "2026-03-18", "--kind", "pack", "--out", file)
	require.Zero(t, code, errs)
	written, err := os.ReadFile(file)
	require.NoError(t, err)
	printed, _, code := run(t, "export", "--db", db, "--as-of", "2026-03-18", "--kind", "pack", "--format", "pdf")
	require.Zero(t, code)
	assert.Equal(t, string(written), printed, "the same data gives the same bytes")
	_, _, code = run(t, "export", "--db", db, "--as-of", "2026-03-18", "--kind", "nonsense")
	assert.Equal(t, 2, code)
}

func TestGeneratedPortfolioIsTakenIn(t *testing.T) {
	dir := t.TempDir()
	_, errs, code := run(t, "generate", "--projects", "12", "--activities", "200", "--ledger", "300", "--seed", "3",
		filepath.Join(dir, "out"))
	require.Zero(t, code, errs)
	db := filepath.Join(dir, "g.db")
	_, _, code = run(t, "init", "--db", db)
	require.Zero(t, code)
	_, errs, code = run(t, "import", "--db", db, filepath.Join(dir, "out"))
	require.Zero(t, code, errs)
	out, _, code := run(t, "measures", "--db", db, "--as-of", "2026-10-31", "--keys", "bac,eac,overall_health")
	require.Zero(t, code)
	assert.Equal(t, 1+12+1, strings.Count(out, "\n"))
	_, _, code = run(t, "generate", "--projects", "0", dir)
	assert.Equal(t, 2, code)
}

func TestTraceOfTheTotalAndAsJSON(t *testing.T) {
	db := loaded(t)
	out, errs, code := run(t, "trace", "--db", db, "--as-of", "2026-03-18", "--project", "*", "--measure", "vac")
	require.Zero(t, code, errs)
	assert.Contains(t, out, "Over 2 of 3 projects")
	assert.Contains(t, out, "BR-3 Path: – (no forecast); left out: no forecast")
	out, errs, code = run(t, "trace", "--db", db, "--as-of", "2026-03-18", "--project", "BR-2", "--measure", "ac", "--format", "json")
	require.Zero(t, code, errs)
	var tree struct {
		Figure struct {
			Value  string
			Inputs []struct {
				Inputs []struct {
					Value, File string
					Row         int
				}
			}
		}
	}
	require.NoError(t, json.Unmarshal([]byte(out), &tree))
	assert.Equal(t, "6750.10", tree.Figure.Value)
	rows := tree.Figure.Inputs[0].Inputs
	require.Len(t, rows, 2)
	assert.Equal(t, []any{"6500.00", "actuals.csv", 7}, []any{rows[0].Value, rows[0].File, rows[0].Row})
}
