package export

import (
	"encoding/csv"
	"encoding/json"
	"fmt"
	"io"
	"strconv"

	"turret/internal/app/judge"
	"turret/internal/core/check"
)

// Findings writes what checks found, one record after the other.
type Findings struct {
	Found *judge.Checked
	Loads map[int64]string // file names
}

// finding is a record as files hold it.
type finding struct {
	Severity string `json:"severity"`
	Check    string `json:"check"`
	Project  string `json:"project"`
	Record   string `json:"record"`
	Kind     string `json:"kind"`
	Field    string `json:"field"`
	Says     string `json:"says"`
	Mend     string `json:"mend"`
	File     string `json:"file,omitempty"`
	Row      int32  `json:"row,omitempty"`
	New      bool   `json:"new"`
	Accepted string `json:"accepted,omitempty"`
	By       string `json:"accepted_by,omitempty"`
	Until    string `json:"accepted_until,omitempty"`
}

var findingHeads = []string{"severity", "check", "project", "record", "kind", "field", "says", "mend", "file", "row", "new", "accepted",
	"accepted_by", "accepted_until"}

func (t *Findings) row(f *judge.Found) finding {
	x := finding{Severity: f.Rule.Severity.String(), Check: f.Rule.ID, Project: f.Project.Code, Record: f.Record, Kind: f.Kind,
		Field: f.Field, Says: f.Says, Mend: f.Rule.Mend,
		New: f.New, Row: f.Ref.Row}
	if f.Ref.Load != 0 {
		x.File = t.Loads[f.Ref.Load]
	}
	if a := f.Accepted; a != nil {
		x.Accepted, x.By, x.Until = a.Reason, a.Who, a.Until.String()
	}
	return x
}

// JSON writes the findings as one list.
func (t *Findings) JSON(out io.Writer) error {
	list := []finding{}
	for i := range t.Found.List {
		list = append(list, t.row(&t.Found.List[i]))
	}
	e := json.NewEncoder(out)
	e.SetEscapeHTML(false)
	e.SetIndent("", " ")
	return e.Encode(list)
}

// CSV writes a row per finding.
func (t *Findings) CSV(out io.Writer) error {
	w := csv.NewWriter(out)
	if err := w.Write(findingHeads); err != nil {
		return err
	}
	for i := range t.Found.List {
		x := t.row(&t.Found.List[i])
		row := ""
		if x.Row > 0 {
			row = strconv.Itoa(int(x.Row))
		}
		cells := []string{x.Severity, x.Check, x.Project, x.Record, x.Kind, x.Field, x.Says, x.Mend, x.File, row,
			strconv.FormatBool(x.New), x.Accepted, x.By, x.Until}
		for k := range cells {
			cells[k] = Safe(cells[k])
		}
		if err := w.Write(cells); err != nil {
			return err
		}
	}
	w.Flush()
	return w.Error()
}

// Text writes the findings for reading, with how many records were tested.
func (t *Findings) Text(out io.Writer) error {
	last := ""
	for i := range t.Found.List {
		f := &t.Found.List[i]
		x := t.row(f)
		if head := x.Severity + ", " + f.Rule.Name; head != last {
			last = head
			if _, err := fmt.Fprintf(out, "%s (%s)\n", head, f.Rule.ID); err != nil {
				return err
			}
		}
		where := ""
		if x.File != "" {
			where = fmt.Sprintf(" [%s, row %d]", x.File, x.Row)
		}
		if f.Accepted != nil {
			where += fmt.Sprintf(" accepted by %s until %s: %s", x.By, x.Until, x.Accepted)
		}
		if _, err := fmt.Fprintf(out, "  %s: %s%s\n", x.Project, x.Says, where); err != nil {
			return err
		}
	}
	var tested int
	var failed [3]int
	for _, c := range t.Found.Rules {
		tested += c.Tested
		failed[c.Rule.Severity] += c.Failed
	}
	_, err := fmt.Fprintf(out, "%d records tested: %d errors, %d warnings, %d notices.\n", tested, failed[check.Error],
		failed[check.Warning], failed[check.Information])
	return err
}
