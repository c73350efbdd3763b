package demo

import (
	"archive/zip"
	"bytes"
	"encoding/csv"
	"encoding/json"
	"fmt"
	"io"
	"os"
	"path/filepath"
	"slices"
	"strconv"
	"strings"
	"time"

	"github.com/xuri/excelize/v2"
	"golang.org/x/text/encoding/charmap"
	"golang.org/x/text/encoding/unicode"

	"turret/internal/core/calendar"
	"turret/internal/record"
)

// Senders writes what would arrive for a period after the demonstration's: the files of six senders with six habits, each in a
// folder of its own. One sender's files have errors in them.
func Senders(period calendar.Month, dir string) error {
	if period <= AsOf.Month() || period > AsOf.Month()+12 {
		return fmt.Errorf("senders for %s: expected a month within a year after %s", period, AsOf.Month())
	}
	all, err := recordsOf(period)
	if err != nil {
		return err
	}
	o := &sending{period: period, dir: dir, all: all}
	for _, send := range []func() error{o.ledger, o.planner, o.lead, o.visitors, o.partner, o.telemetry} {
		if err := send(); err != nil {
			return err
		}
	}
	return nil
}

// rowOf is a row by its columns.
type rowOf = map[string]string

// Reports are what the open projects report for a period, as records by column.
type Reports struct{ Postings, Activities, Hours []map[string]string }

// timed reports whether somebody's hours come by the time system and not by week sheets: those who work on sites.
func timed(p person) bool {
	return roles[p.role].name == "site supervisor" || roles[p.role].name == "underwater inspector"
}

// Records makes the reports of a period.
func Records(period calendar.Month) (Reports, error) {
	all, err := recordsOf(period)
	if err != nil {
		return Reports{}, err
	}
	hours, err := rowsOf(period, func(m *maker) {
		for i, p := range staff() {
			if timed(p) {
				m.hours(p, i)
			}
		}
	})
	return Reports{all[record.Actuals], all[record.Activities], hours[record.Timesheets]}, err
}

// recordsOf makes the reports of the open projects as they stand at the end of a period.
func recordsOf(period calendar.Month) (map[record.Kind][]rowOf, error) {
	return rowsOf(period, func(m *maker) {
		for _, s := range open() {
			if s.code == "LW-11" {
				s.slip += 9 // the crane barge goes on slipping
			}
			m.reports(&s)
			m.money(&s)
		}
	})
}

// rowsOf are the rows that are made as of the end of a period.
func rowsOf(period calendar.Month, making func(*maker)) (map[record.Kind][]rowOf, error) {
	made := map[string]*buffer{}
	m := newMaker(func(name string) (io.WriteCloser, error) {
		made[name] = &buffer{}
		return made[name], nil
	}, seed, period.Last())
	making(m)
	if err := m.close(); err != nil {
		return nil, err
	}
	all := map[record.Kind][]rowOf{}
	for name, b := range made {
		rows, err := csv.NewReader(b).ReadAll()
		if err != nil {
			return nil, err
		}
		kind := record.Kind(strings.TrimSuffix(name, ".csv"))
		for _, row := range rows[1:] {
			r := rowOf{}
			for i, h := range rows[0] {
				r[h] = row[i]
			}
			all[kind] = append(all[kind], r)
		}
	}
	return all, nil
}

type sending struct {
	period calendar.Month
	dir    string
	all    map[record.Kind][]rowOf
}

// of picks the records of the projects whose codes begin so.
func (o *sending) of(kind record.Kind, prefixes ...string) []rowOf {
	var list []rowOf
	for _, r := range o.all[kind] {
		if slices.ContainsFunc(prefixes, func(p string) bool { return strings.HasPrefix(r["project"], p) }) {
			list = append(list, r)
		}
	}
	return list
}

func (o *sending) write(folder, name string, b []byte) error {
	at := filepath.Join(o.dir, folder)
	if err := os.MkdirAll(at, 0o755); err != nil {
		return err
	}
	return os.WriteFile(filepath.Join(at, name), b, 0o644)
}

// dmy writes a day with the day first.
func dmy(iso, sep string) string {
	if iso == "" {
		return ""
	}
	return iso[8:10] + sep + iso[5:7] + sep + iso[:4]
}

func mdy(iso string) string {
	if iso == "" {
		return ""
	}
	return iso[5:7] + "/" + iso[8:10] + "/" + iso[:4]
}

// continental writes 1234567.89 as 1.234.567,89.
func continental(amount string) string {
	whole, decimals, _ := strings.Cut(amount, ".")
	sign := ""
	if strings.HasPrefix(whole, "-") {
		sign, whole = "-", whole[1:]
	}
	for i := len(whole) - 3; i > 0; i -= 3 {
		whole = whole[:i] + "." + whole[i:]
	}
	return sign + whole + "," + (decimals + "00")[:2]
}

// ledger is the finance system's: a title above the heads, semicolons, an old encoding, decimal commas, a total below.
func (o *sending) ledger() error {
	var b strings.Builder
	fmt.Fprintf(&b, "Ostrel Waterways Board;;;;;;;\r\nPostings by project, %s;;;;;;;\r\n;;;;;;;\r\n", o.period.Name())
	b.WriteString("Project no.;Account;Booking date;Net amount;Curr.;Voucher;Vendor;Posted by\r\n")
	total := 0.0
	for _, r := range o.all[record.Actuals] {
		if r["date"][:7] != o.period.String() || strings.HasPrefix(r["project"], "DT-") {
			continue
		}
		f, _ := strconv.ParseFloat(r["amount"], 64)
		total += f
		fmt.Fprintf(&b, "%s;%s;%s;%s;%s;%s;%s;%s\r\n", r["project"], r["cost_code"], dmy(r["date"], "."), continental(r["amount"]),
			r["currency"],
			r["document"], r["supplier"], "Müller")
	}
	fmt.Fprintf(&b, "Total;;;%s;;;;\r\n", continental(strconv.FormatFloat(total, 'f', 2, 64)))
	text, err := charmap.Windows1252.NewEncoder().String(b.String())
	if err != nil {
		return err
	}
	return o.write("finance", "GL-extract-"+o.period.String()+".csv", []byte(text))
}

// planner is a programme's workbook: a sheet that is only read by people, a plan in its own words with shares for progress,
// and the forecast with a column for each month in thousands.
func (o *sending) planner() error {
	book := excelize.NewFile()
	defer book.Close()
	if err := book.SetSheetName("Sheet1", "Read me"); err != nil {
		return err
	}
	_ = book.SetCellStr("Read me", "A1", "Locks and Weirs, monthly return. Plan and Money are the sheets that matter.")
	if err := o.plan(book); err != nil {
		return err
	}
	if err := o.months(book); err != nil {
		return err
	}
	var out bytes.Buffer
	if err := book.Write(&out); err != nil {
		return err
	}
	return o.write("locks-and-weirs", "LW return "+o.period.Name()+".xlsx", out.Bytes())
}

func excelDay(iso string) any {
	t, err := time.Parse("2006-01-02", iso)
	if err != nil {
		return nil
	}
	return t
}

func (o *sending) plan(book *excelize.File) error {
	if _, err := book.NewSheet("Plan"); err != nil {
		return err
	}
	style, err := book.NewStyle(&excelize.Style{NumFmt: 14})
	if err != nil {
		return err
	}
	rows := [][]any{{"Locks and Weirs: plan as of " + o.period.Last().Human()}, {},
		{"Project code", "Task ID", "Task name", "Belongs to", "Type", "Planned start", "Planned finish", "Expected start",
			"Expected finish", "Started", "Finished", "% done", "Reported to", "Responsible"}}
	words := map[string]string{"activity": "Task", "summary": "Phase", "milestone": "Milestone", "deliverable": "Deliverable", "": "Task"}
	for _, r := range o.of(record.Activities, "LW-") {
		done := any(nil)
		if f, err := strconv.ParseFloat(r["percent_complete"], 64); err == nil {
			done = f / 100
		}
		rows = append(rows, []any{r["project"], r["code"], r["name"], r["parent"], words[r["kind"]], excelDay(r["baseline_start"]),
			excelDay(r["baseline_finish"]),
			excelDay(r["start"]), excelDay(r["finish"]), excelDay(r["actual_start"]), excelDay(r["actual_finish"]), done, r["report_to"],
			r["owner"]})
	}
	for i, row := range rows {
		if err := book.SetSheetRow("Plan", fmt.Sprintf("A%d", i+1), &row); err != nil {
			return err
		}
	}
	return book.SetCellStyle("Plan", "F4", fmt.Sprintf("K%d", len(rows)), style)
}

// months pivots the forecast: a row for each project and account, a column for each month, thousands.
func (o *sending) months(book *excelize.File) error {
	if _, err := book.NewSheet("Money"); err != nil {
		return err
	}
	last := o.period
	amounts := map[[4]string]map[calendar.Month]float64{}
	var order [][4]string
	for _, r := range o.of(record.Forecast, "LW-") {
		m, err := calendar.ParseMonth(r["month"])
		if err != nil {
			continue // a span; the planner spreads it otherwise
		}
		key := [4]string{r["project"], r["cost_code"], r["currency"], r["cost_centre"]}
		if amounts[key] == nil {
			amounts[key] = map[calendar.Month]float64{}
			order = append(order, key)
		}
		f, _ := strconv.ParseFloat(r["amount"], 64)
		amounts[key][m] += f
		last = max(last, m)
	}
	head := []any{"Project code", "Account", "Ccy", "Cost centre"}
	for m := o.period + 1; m <= last; m++ {
		head = append(head, m.Short()+" "+m.String()[:4])
	}
	if err := book.SetSheetRow("Money", "A1", &[]any{"Forecast still to come, in K€"}); err != nil {
		return err
	}
	if err := book.SetSheetRow("Money", "A3", &head); err != nil {
		return err
	}
	for i, key := range order {
		row := []any{key[0], key[1], key[2], key[3]}
		for m := o.period + 1; m <= last; m++ {
			if f := amounts[key][m]; f != 0 {
				row = append(row, f/1000)
			} else {
				row = append(row, nil)
			}
		}
		if err := book.SetSheetRow("Money", fmt.Sprintf("A%d", i+4), &row); err != nil {
			return err
		}
	}
	return nil
}

// lead sends the status of the own projects as JSON, from a program of their own.
func (o *sending) lead() error {
	var list []map[string]any
	for _, r := range o.of(record.Statuses, "LW-", "BR-") {
		percent, _ := strconv.ParseFloat(r["percent_complete"], 64)
		health := map[string]string{"on track": "green", "watch": "amber", "act": "red", "": ""}
		list = append(list, map[string]any{"project": r["project"], "overall status": health[r["overall"]],
			"schedule status": health[r["schedule"]],
			"cost status":     health[r["cost"]], "progress": percent, "remarks": r["commentary"], "week": o.period.Last().String()})
	}
	b, err := json.MarshalIndent(list, "", " ")
	if err != nil {
		return err
	}
	return o.write("locks-and-banks-status", "status "+o.period.String()+".json", append(b, '\n'))
}

// visitors copies from a spreadsheet with tabs, as such programs write them: UTF-16, the month first.
func (o *sending) visitors() error {
	var b strings.Builder
	b.WriteString("Project\tActivity ID\tActivity name\tSort\tBaseline start\tBaseline end\tForecast start\tForecast end\tActual " +
		"start\tActual end\t% complete\tReport to\tWho\r\n")
	for _, r := range o.of(record.Activities, "BV-01", "BV-02", "BV-03", "BV-05", "BR-") {
		b.WriteString(strings.Join([]string{r["project"], r["code"], r["name"], r["kind"], mdy(r["baseline_start"]),
			mdy(r["baseline_finish"]), mdy(r["start"]),
			mdy(r["finish"]), mdy(r["actual_start"]), mdy(r["actual_finish"]), r["percent_complete"] + "%", r["report_to"], r["owner"]},
			"\t") + "\r\n")
	}
	text, err := unicode.UTF16(unicode.LittleEndian, unicode.UseBOM).NewEncoder().String(b.String())
	if err != nil {
		return err
	}
	return o.write("boats-and-banks", "activities.txt", []byte(text))
}

// partner is a small firm with one project that fills in Turret's own columns, in a spreadsheet saved as CSV.
func (o *sending) partner() error {
	for _, kind := range []record.Kind{record.Activities, record.Statuses} {
		in := kind.Input()
		var b bytes.Buffer
		w := csv.NewWriter(&b)
		w.Comma = ';'
		var head []string
		for _, c := range in.Columns {
			head = append(head, c.Name)
		}
		_ = w.Write(head)
		for _, r := range o.of(kind, "BV-04") {
			var row []string
			for _, h := range head {
				row = append(row, r[h])
			}
			_ = w.Write(row)
		}
		w.Flush()
		if err := o.write("canoe-partner", string(kind)+".csv", b.Bytes()); err != nil {
			return err
		}
	}
	return nil
}

// telemetry is a ZIP whose files have errors in them: a day that is none, a project and an account nobody knows, an amount in
// words, the same row twice.
func (o *sending) telemetry() error {
	var out bytes.Buffer
	z := zip.NewWriter(&out)
	for _, kind := range []record.Kind{record.Activities, record.Actuals, record.Statuses} {
		f, err := z.CreateHeader(&zip.FileHeader{Name: string(kind) + ".csv", Method: zip.Deflate,
			Modified: time.Date(2026, 12, 2, 9, 0, 0, 0, time.UTC)})
		if err != nil {
			return err
		}
		w := csv.NewWriter(f)
		var head []string
		for _, c := range kind.Input().Columns {
			head = append(head, c.Name)
		}
		_ = w.Write(head)
		n := 0
		for _, r := range o.of(kind, "DT-01", "DT-02", "DT-03", "DT-05") {
			if kind == record.Actuals && r["date"][:7] != o.period.String() {
				continue
			}
			n++
			if o.period == AsOf.Month()+1 {
				spoil(kind, n, r)
			}
			var row []string
			for _, h := range head {
				row = append(row, r[h])
			}
			_ = w.Write(row)
			if kind == record.Statuses && n == 2 && o.period == AsOf.Month()+1 {
				_ = w.Write(row)
			}
		}
		if w.Flush(); w.Error() != nil {
			return w.Error()
		}
	}
	if err := z.Close(); err != nil {
		return err
	}
	return o.write("data-and-telemetry", "DT "+o.period.String()+".zip", out.Bytes())
}

func spoil(kind record.Kind, n int, r rowOf) {
	switch {
	case kind == record.Actuals && n == 3:
		r["date"] = "2026-11-31"
	case kind == record.Actuals && n == 5:
		r["project"] = "DT-20"
	case kind == record.Actuals && (n == 8 || n == 9):
		r["cost_code"] = "4100"
	case kind == record.Actuals && n == 12:
		r["amount"] = "about 400"
	case kind == record.Activities && n == 4:
		r["percent_complete"] = "110"
	}
}
