package pipeline

import (
	"cmp"
	"fmt"
	"slices"
	"strings"
	"time"
	"unicode/utf8"

	"turret/internal/app/fault"
	"turret/internal/core/calendar"
	"turret/internal/core/money"
	"turret/internal/core/write"
	"turret/internal/record"
)

// Template is what projects begin with.
type Template struct {
	Name     string        `json:"-"`
	Says     string        `json:"says,omitempty"` // what it is for
	Steps    []Step        `json:"steps"`
	Risks    []Doubt       `json:"risks,omitempty"`
	Category string        `json:"category,omitempty"` // of projects that have none, and so the stages that they go through
	Asked    []record.Kind `json:"asked,omitempty"`    // inputs, of those that the office asks for each period; none are all of them
	Limits   string        `json:"limits,omitempty"`   // code of the project or node whose tolerances they have
	Report   *Reported     `json:"report,omitempty"`

	Version int       `json:"-"` // from 1; 0 of one that ships
	Who     string    `json:"-"`
	At      time.Time `json:"-"`
	Reason  string    `json:"reason,omitempty"` // of the version
}

// Step is an activity, a milestone or a phase of a template.
type Step struct {
	Code     string   `json:"code"`
	Name     string   `json:"name"`
	Parent   string   `json:"parent,omitempty"`
	Kind     string   `json:"kind,omitempty"` // empty for an activity, else milestone, deliverable or summary
	Report   string   `json:"report_to,omitempty"`
	From     int      `json:"from,omitempty"` // working days after the start; Soonest for as soon as what it waits for has ended
	Days     int      `json:"days,omitempty"` // working days that it takes; 1 of a milestone, which lies on that day
	After    []string `json:"after,omitempty"`
	Role     string   `json:"role,omitempty"` // wanted for it
	Percent  int      `json:"percent,omitempty"`
	CostCode string   `json:"cost_code,omitempty"`
	Share    int64    `json:"share,omitempty"` // of the cost, hundredths of a percent
}

// Reported is a report that each project has of its own.
type Reported struct {
	Name  string `json:"name"`
	Query string `json:"query"` // as an address says it
}

// Soonest stands for the day on which what a step waits for has ended.
const Soonest = -1 << 20

// Bounds of what a template holds.
const (
	mostSteps      = 300
	mostStepDays   = 2_500 // ten years
	mostTemplates  = 100
	mostRisks      = 50
	wholeShare     = 10_000
	longestName    = 40
	longestPurpose = 400
)

// Dot reports whether a step is a day and no stretch of time.
func (s *Step) Dot() bool { return s.Kind == "milestone" || s.Kind == "deliverable" }

// Summary reports whether a step only holds others.
func (s *Step) Summary() bool { return s.Kind == "summary" }

// end is the day after its last, counted as From is.
func (s *Step) end() int { return s.From + s.Days }

// soonest is the first day on which a step may begin once what it waits for has ended. A milestone may lie on the last day of that.
func (s *Step) soonest(before []*Step) (day int, last *Step) {
	for _, b := range before {
		end := b.end()
		if s.Dot() {
			end--
		}
		if end > day || last == nil {
			day, last = max(day, end), b
		}
	}
	return day, last
}

// check fills in when steps begin that begin as soon as they may.
func (t *Template) check() error {
	t.Name, t.Says = strings.TrimSpace(t.Name), strings.TrimSpace(t.Says)
	switch {
	case t.Name == "" || utf8.RuneCountInString(t.Name) > longestName:
		return fault.Field("name", fault.Clip(t.Name, longestName), fmt.Sprintf("a name of at most %d letters", longestName))
	case utf8.RuneCountInString(t.Says) > longestPurpose:
		return fault.Field("what it is for", fault.Clip(t.Says, 40), fmt.Sprintf("at most %d letters", longestPurpose))
	case len(t.Steps) == 0 || len(t.Steps) > mostSteps:
		return fault.Field("steps", write.Whole(len(t.Steps)), fmt.Sprintf("1 to %d of them", mostSteps))
	case len(t.Risks) > mostRisks:
		return fault.Field("risks", write.Whole(len(t.Risks)), fmt.Sprintf("at most %d of them", mostRisks))
	}
	at := make(map[string]*Step, len(t.Steps))
	for i := range t.Steps {
		s := &t.Steps[i]
		if err := s.check(); err != nil {
			return err
		}
		if at[s.Code] != nil {
			return fault.Field("code", s.Code, "another code, since an earlier step has it")
		}
		at[s.Code] = s
	}
	if err := t.checkShares(); err != nil {
		return err
	}
	for i := range t.Steps {
		if err := t.Steps[i].checkParent(at); err != nil {
			return err
		}
	}
	for i := range t.Risks {
		if err := t.Risks[i].checkRatings(); err != nil {
			return err
		}
	}
	return t.begin(at)
}

func (s *Step) check() error {
	field := func(name, value, want string) error {
		return fault.Field(name+" of "+cmp.Or(s.Code, s.Name), fault.Clip(value, 40), want)
	}
	switch {
	case s.Code == "" || utf8.RuneCountInString(s.Code) > longestName || strings.ContainsAny(s.Code, ", "):
		return fault.Field("code", fault.Clip(s.Code, 40), "a short code without blanks or commas for "+fault.Clip(s.Name, 40))
	case s.Name == "" || utf8.RuneCountInString(s.Name) > 200:
		return field("name", s.Name, "a name of at most 200 letters")
	case !slices.Contains([]string{"", "milestone", "deliverable", "summary"}, s.Kind):
		return field("kind", s.Kind, "empty, milestone, deliverable or summary")
	case !slices.Contains([]string{"", "project", "programme", "portfolio"}, s.Report):
		return field("report to", s.Report, "project, programme or portfolio")
	case s.Summary() && (s.Days != 0 || len(s.After) > 0 || s.Role != "" || s.Share != 0 || s.From > 0):
		return field("kind", s.Kind, "no days, role or cost of its own: a phase has those of its steps")
	case s.Summary():
		s.From, s.Days = 0, 0
		return nil
	case s.From < 0 && s.From != Soonest || s.From > mostStepDays:
		return field("first day", fmt.Sprint(s.From+1), fmt.Sprintf("a working day from 1 to %d, 1 being the first of the project",
			mostStepDays))
	case s.Dot() && s.Days > 1:
		return field("days", fmt.Sprint(s.Days), "none, since it is a day")
	case !s.Dot() && (s.Days < 1 || s.Days > mostStepDays):
		return field("days", fmt.Sprint(s.Days), fmt.Sprintf("1 to %d working days", mostStepDays))
	case s.Percent < 0 || s.Percent > 10_000 || (s.Percent > 0) != (s.Role != ""):
		return field("percent", fmt.Sprint(s.Percent), "a role together with 1 to 10000 % of a working day")
	case s.Dot() && s.Role != "":
		return field("role", s.Role, "none, since it is a day")
	case s.Share < 0 || s.Share > wholeShare || (s.Share > 0) != (s.CostCode != ""):
		return field("share", money.Plain(s.Share, 2), "a cost code together with more than 0 and at most 100 % of the cost")
	}
	s.Days = max(s.Days, 1)
	return nil
}

func (s *Step) checkParent(at map[string]*Step) error {
	up := s
	for range len(at) + 1 {
		if up.Parent == "" {
			return nil
		}
		p := at[up.Parent]
		if p == nil || !p.Summary() {
			return fault.Field("phase of "+up.Code, fault.Clip(up.Parent, 40), "empty, or the code of a summary of the template")
		}
		up = p
	}
	return fault.Field("phase of "+s.Code, s.Parent, "no phase that lies within itself")
}

func (t *Template) checkShares() error {
	sum := int64(0)
	for i := range t.Steps {
		sum += t.Steps[i].Share
	}
	if sum != 0 && sum != wholeShare {
		return fault.Field("shares of the cost", money.Plain(sum, 2)+" %", "100 % in all, or none")
	}
	return nil
}

// begin orders the steps by what they wait for, and fills in when those begin that begin as soon as they may.
func (t *Template) begin(at map[string]*Step) error {
	open, waiting := make(map[string]int, len(at)), map[string][]*Step{}
	var ready []*Step
	for i := range t.Steps {
		s := &t.Steps[i]
		slices.Sort(s.After)
		s.After = slices.Compact(s.After)
		for _, code := range s.After {
			if b := at[code]; b == nil || b.Summary() || b == s {
				return fault.Field("what "+s.Code+" waits for", fault.Clip(code, 40), "codes of other steps that are no phases")
			}
			waiting[code] = append(waiting[code], s)
		}
		if open[s.Code] = len(s.After); len(s.After) == 0 {
			ready = append(ready, s)
		}
	}
	done := 0
	for ; len(ready) > 0; done++ {
		s := ready[0]
		ready = ready[1:]
		var before []*Step
		for _, code := range s.After {
			before = append(before, at[code])
		}
		day, last := s.soonest(before)
		if s.From == Soonest {
			s.From = day
		} else if s.From < day {
			return fault.Field("first day of "+s.Code, fmt.Sprint(s.From+1), fmt.Sprintf("day %d or later, when %s has ended", day+1,
				last.Code))
		}
		for _, next := range waiting[s.Code] {
			if open[next.Code]--; open[next.Code] == 0 {
				ready = append(ready, next)
			}
		}
	}
	if done == len(t.Steps) {
		return nil
	}
	for i := range t.Steps {
		if s := &t.Steps[i]; open[s.Code] > 0 {
			return fault.Field("what "+s.Code+" waits for", strings.Join(s.After, ", "), "nothing that waits for it in turn")
		}
	}
	return nil
}

// Length is how many working days the steps take from the start to the end of the last.
func (t *Template) Length() (days int) {
	for i := range t.Steps {
		days = max(days, t.Steps[i].end())
	}
	return days
}

// Count is how many activities and milestones there are, without phases.
func (t *Template) Count() (n int) {
	for i := range t.Steps {
		if !t.Steps[i].Summary() {
			n++
		}
	}
	return n
}

// Shares reports whether it says how the cost is laid out.
func (t *Template) Shares() bool {
	return slices.ContainsFunc(t.Steps, func(s Step) bool { return s.Share > 0 })
}

// Words describes a template in a few words.
func (t *Template) Words() string {
	return fmt.Sprintf("%s (%d activities and milestones)", t.Name, t.Count())
}

// Span is when a step lies in a project that begins on a day.
func (s *Step) Span(start calendar.Date, c *calendar.Calendar) (from, to calendar.Date) {
	from = c.Add(start, s.From)
	return from, c.Finish(from, s.Days)
}
