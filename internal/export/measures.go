package export

import (
	"bufio"
	"encoding/csv"
	"encoding/json"
	"fmt"
	"io"
	"strings"

	"turret/internal/app/assess"
	"turret/internal/app/trace"
	"turret/internal/core/measure"
)

// Table is a scope's figures: one row per project, then the total.
type Table struct {
	Env   measure.Env
	Keys  []measure.Key
	Scope *assess.Scope
}

// rows passes the name of each row and its values in the order of the keys.
func (t *Table) rows(each func(name string, values []measure.Value) error) error {
	line := func(name string, value func(measure.Key) measure.Value) error {
		values := make([]measure.Value, len(t.Keys))
		for i, k := range t.Keys {
			values[i] = value(k)
		}
		return each(name, values)
	}
	for _, p := range t.Scope.Projects {
		if err := line(p.Code, p.Value); err != nil {
			return err
		}
	}
	return line("*", t.Scope.Roll(t.Env).Value)
}

// CSV writes the table as formats.md says: money in major units, shares to six decimals, undefined empty.
func (t *Table) CSV(w io.Writer) error {
	out := csv.NewWriter(w)
	if err := out.Write(append([]string{"project", "as_of", "currency"}, measure.Texts(t.Keys...)...)); err != nil {
		return err
	}
	err := t.rows(func(name string, values []measure.Value) error {
		cells := []string{Safe(name), t.Env.AsOf.String(), string(t.Env.Currency)}
		for i, v := range values {
			d := measure.Of(t.Keys[i])
			cells = append(cells, v.Text(d.Unit, t.Env.Currency))
		}
		return out.Write(cells)
	})
	out.Flush()
	if err == nil {
		err = out.Error()
	}
	return err
}

// JSON writes the table as an array of objects, numbers exactly as in CSV and undefined as null.
func (t *Table) JSON(w io.Writer) error {
	out := bufio.NewWriter(w)
	sep := "[\n"
	err := t.rows(func(name string, values []measure.Value) error {
		fmt.Fprintf(out, "%s  {%q: %s, %q: %s, %q: %s", sep, "project", quoted(name), "as_of", quoted(t.Env.AsOf.String()),
			"currency", quoted(string(t.Env.Currency)))
		sep = ",\n"
		for i, v := range values {
			d := measure.Of(t.Keys[i])
			s := v.Text(d.Unit, t.Env.Currency)
			switch {
			case !v.Known:
				s = "null"
			case d.Unit.Worded():
				s = quoted(s)
			}
			fmt.Fprintf(out, ", %q: %s", t.Keys[i].String(), s)
		}
		_, err := out.WriteString("}")
		return err
	})
	if err != nil {
		return err
	}
	if _, err := out.WriteString("\n]\n"); err != nil {
		return err
	}
	return out.Flush()
}

func quoted(s string) string {
	b, _ := json.Marshal(s)
	return string(b)
}

// TraceText writes a trace as an indented list, each row with its load, file and row number.
func TraceText(w io.Writer, t *trace.Trace, env measure.Env) error {
	out := bufio.NewWriter(w)
	fmt.Fprintf(out, "%s as of %s\n", t.Subject, t.AsOf)
	writeNode(out, t, env, &t.Root, 0)
	return out.Flush()
}

func writeNode(w io.Writer, t *trace.Trace, env measure.Env, n *measure.Node, depth int) {
	fmt.Fprintf(w, "%s%s", strings.Repeat("  ", depth), n.Label)
	if n.Value.Known {
		fmt.Fprintf(w, ": %s", n.Value.Human(n.Unit, env.Currency))
	} else if n.Value.Reason != "" && n.Ref.Load == 0 {
		fmt.Fprintf(w, ": – (%s)", n.Value.Reason)
	}
	for _, s := range []string{n.Detail, n.Value.Note, t.Where(n.Ref)} {
		if s != "" {
			fmt.Fprintf(w, "; %s", s)
		}
	}
	if n.Rule != "" {
		fmt.Fprintf(w, "\n%s  = %s", strings.Repeat("  ", depth), n.Rule)
	}
	fmt.Fprintln(w)
	for i := range n.Children {
		writeNode(w, t, env, &n.Children[i], depth+1)
	}
}

// traceNode is a node as JSON.
type traceNode struct {
	Label    string      `json:"label"`
	Key      string      `json:"measure,omitempty"`
	Project  string      `json:"project,omitempty"`
	Unit     string      `json:"unit"`
	Value    *string     `json:"value"`
	Reason   string      `json:"reason,omitempty"`
	Note     string      `json:"note,omitempty"`
	Rule     string      `json:"rule,omitempty"`
	Detail   string      `json:"detail,omitempty"`
	Load     int64       `json:"load,omitempty"`
	File     string      `json:"file,omitempty"`
	Row      int32       `json:"row,omitempty"`
	Digest   string      `json:"digest,omitempty"`
	Children []traceNode `json:"inputs,omitempty"`
}

// TraceJSON writes a trace as a tree of objects.
func TraceJSON(w io.Writer, t *trace.Trace, env measure.Env) error {
	enc := json.NewEncoder(w)
	enc.SetIndent("", "  ")
	return enc.Encode(struct {
		Subject  string    `json:"subject"`
		AsOf     string    `json:"as_of"`
		Currency string    `json:"currency"`
		Figure   traceNode `json:"figure"`
	}{t.Subject, t.AsOf, string(env.Currency), jsonNode(t, env, &t.Root)})
}

func jsonNode(t *trace.Trace, env measure.Env, n *measure.Node) traceNode {
	out := traceNode{Label: n.Label, Key: n.Key, Project: n.Project, Unit: n.Unit.String(), Reason: n.Value.Reason,
		Note: n.Value.Note, Rule: n.Rule, Detail: n.Detail, Load: n.Ref.Load, Row: n.Ref.Row,
		File: t.Loads[n.Ref.Load].File, Digest: t.Loads[n.Ref.Load].Digest}
	if n.Value.Known {
		s := n.Value.Text(n.Unit, env.Currency)
		out.Value = &s
	}
	for i := range n.Children {
		out.Children = append(out.Children, jsonNode(t, env, &n.Children[i]))
	}
	return out
}
