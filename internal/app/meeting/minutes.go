package meeting

import (
	"context"
	"maps"
	"regexp"
	"strings"

	"turret/internal/app/assess"
	"turret/internal/app/edit"
	"turret/internal/app/intake"
	"turret/internal/app/register"
	"turret/internal/core/calendar"
	"turret/internal/record"
)

// Made is what a line of minutes makes: an action, or a decision.
type Made struct {
	Kind         record.Kind
	Title, Owner string
	Due          calendar.Date
}

// marked is a line that is to become a record.
var marked = regexp.MustCompile(`^(\s*(?:[-*]\s+)?)(?i:(action|decision))\s*:\s*(\S.*)$`)

// MadeOf reads a line of minutes such as "action: Ring the town, @A. Person, 2026-11-20": what stands after @ is the owner, a day is when
// it is due. Lines that begin otherwise make nothing.
func MadeOf(line string) (x Made, lead string, ok bool) {
	m := marked.FindStringSubmatch(strings.TrimRight(line, " \t\r"))
	if m == nil {
		return x, "", false
	}
	x.Kind = record.Actions
	if strings.EqualFold(m[2], "decision") {
		x.Kind = record.Decisions
	}
	parts := strings.Split(m[3], ",")
	for len(parts) > 1 {
		last := strings.TrimSpace(parts[len(parts)-1])
		if owner, is := strings.CutPrefix(last, "@"); is && x.Owner == "" {
			x.Owner = strings.TrimSpace(owner)
		} else if day := dayOf(last); day != 0 && x.Due == 0 {
			x.Due = day
		} else {
			break
		}
		parts = parts[:len(parts)-1]
	}
	x.Title = strings.TrimSpace(strings.Join(parts, ","))
	return x, m[1], x.Title != ""
}

// line is what stands in the minutes in the place of a line that made a record.
func (x *Made) line(lead, code string) string {
	text := lead + "**" + code + "** " + x.Title
	if x.Owner != "" {
		text += ", " + x.Owner
	}
	if x.Due != 0 {
		text += ", " + x.Due.Human()
	}
	return text
}

// Saved is what saving minutes came to.
type Saved struct {
	Code               string
	Actions, Decisions int
	Receipt            *intake.Receipt
}

// Save writes a meeting of a project or node, a new one where the code is empty, and makes the records that its lines ask for, all at once
// or
// not at all. Lines that made one name it from then on.
func (o *Office) Save(ctx context.Context, a *assess.Assessment, holder, code string, cells,
	was map[string]string) (*Saved, error) {
	fresh := code == ""
	set := maps.Clone(cells)
	day := dayOf(set["date"])
	if day != 0 {
		set["date"] = day.String()
	}
	next, err := o.register.NextCodes(ctx, holder, record.Meetings, record.Actions, record.Decisions)
	if err != nil {
		return nil, err
	}
	if fresh {
		code = next[record.Meetings]()
	}
	x := &Saved{Code: code}
	edits := map[record.Kind][]intake.Edited{}
	lines := strings.Split(strings.ReplaceAll(set["minutes"], "\r\n", "\n"), "\n")
	for i, line := range lines {
		made, lead, ok := MadeOf(line)
		if !ok {
			continue
		}
		c := next[made.Kind]()
		e, err := o.register.New(ctx, made.Kind, holder, o.cellsOf(made, c, code, cells, day, a.Env.AsOf))
		if err != nil {
			return nil, err
		}
		edits[made.Kind] = append(edits[made.Kind], *e)
		lines[i] = made.line(lead, c)
	}
	x.Actions, x.Decisions = len(edits[record.Actions]), len(edits[record.Decisions])
	set["minutes"], set["code"] = strings.Join(lines, "\n"), code
	e, err := o.register.New(ctx, record.Meetings, holder, set)
	if !fresh {
		delete(set, "code")
		if was = maps.Clone(was); was != nil {
			if day := dayOf(was["date"]); day != 0 {
				was["date"] = day.String()
			}
		}
		e, err = o.register.Edited(ctx, register.Act{Kind: record.Meetings, Holder: holder, Code: code, Set: set, Was: was})
	}
	if err != nil {
		return nil, err
	}
	tables := []edit.TableEdit{{Kind: record.Meetings, Edits: []intake.Edited{*e}}}
	for _, kind := range []record.Kind{record.Decisions, record.Actions} {
		if len(edits[kind]) > 0 {
			tables = append(tables, edit.TableEdit{Kind: kind, Edits: edits[kind]})
		}
	}
	x.Receipt, err = o.edit.SaveTables(ctx, holder, tables, edit.SaveAs{})
	return x, err
}

// cellsOf are the cells of a record that a line makes.
func (o *Office) cellsOf(x Made, code, meeting string, cells map[string]string, day, asOf calendar.Date) map[string]string {
	set := map[string]string{"code": code, "title": x.Title, "meeting": meeting}
	if x.Kind == record.Decisions {
		set["state"], set["decided_by"], set["decided_on"] = "taken", or(x.Owner, cells["title"]), day.String()
		return set
	}
	set["owner"] = x.Owner
	if x.Due != 0 {
		set["due"] = x.Due.String()
	}
	return o.register.Begun(x.Kind, set, asOf)
}
