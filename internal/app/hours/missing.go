package hours

import (
	"context"
	"fmt"
	"slices"
	"strings"

	"turret/internal/app/access"
	"turret/internal/app/assess"
	"turret/internal/app/letter"
	"turret/internal/core/calendar"
	"turret/internal/core/capacity"
)

// Stand is how the hours of a person in a week stand.
type Stand struct {
	Available int64 // ten-thousandths
	Booked    int64 // in the timesheets
	Waiting   int64 // written or sent, and not booked yet
	Sent      bool  // some of it was sent and waits
	Back      bool  // some of it was sent back
}

// Missing reports whether nothing was written of a week in which there were hours.
func (s *Stand) Missing() bool { return s.Available > 0 && s.Booked == 0 && s.Waiting == 0 }

// Filed are the weeks of a person.
type Filed struct {
	Person *capacity.Person
	Weeks  []Stand
}

// Missing is how many weeks are missing.
func (f *Filed) Missing() (n int) {
	for i := range f.Weeks {
		if f.Weeks[i].Missing() {
			n++
		}
	}
	return n
}

// WeeksBefore are the Mondays of the last whole weeks up to a day, ascending.
func WeeksBefore(day calendar.Date, n int) []calendar.Date {
	last := Monday(day + 1 - 7)
	list := make([]calendar.Date, n)
	for i := range list {
		list[i] = last - calendar.Date(7*(n-1-i))
	}
	return list
}

// Filed tells how the hours stand of those whom the one who asks has to do with, in some weeks that follow each other; of one person where
// only names them.
func (o *Office) Filed(ctx context.Context, a *assess.Assessment, mondays []calendar.Date, only string) ([]Filed, error) {
	actor, err := access.Permit(ctx, access.Book)
	if err != nil || len(mondays) == 0 {
		return nil, err
	}
	first, last := mondays[0], mondays[len(mondays)-1]+6
	var list []Filed
	at := map[string]int{}
	staff := &capacity.Staff{}
	for i := range a.People {
		if p := &a.People[i]; (only == "" || p.Code == only) && Concerns(a, actor, p) {
			at[p.Code] = len(list)
			list = append(list, Filed{Person: p, Weeks: make([]Stand, len(mondays))})
			staff.People = append(staff.People, *p)
		}
	}
	for _, r := range capacity.Table(assess.CapacityOf(a), staff, capacity.ByPerson, capacity.Weeks(first, last)) {
		if i, ok := at[r.Name]; ok {
			list[i].Weeks[r.Span].Available = r.Available / (capacity.Unit / 10_000)
		}
	}
	booked := map[string]map[slot]int64{} // of sheets, by person and Monday
	err = o.store.Worked(ctx, only, first, last, func(x *Worked) {
		i, ok := at[x.Person]
		if !ok {
			return
		}
		week := int(x.Date-first) / 7
		list[i].Weeks[week].Booked += x.Hours
		if x.FromSheet {
			key := fmt.Sprint(x.Person, "|", mondays[week])
			if booked[key] == nil {
				booked[key] = map[slot]int64{}
			}
			booked[key][slot{x.Project, x.Work, int(x.Date - mondays[week])}] += x.Hours
		}
	})
	if err != nil {
		return nil, err
	}
	parts, err := o.store.WeekParts(ctx, only, first, last)
	for i := range parts {
		p := &parts[i]
		k, ok := at[p.Person]
		if !ok || (p.Week-first)%7 != 0 {
			continue
		}
		s := &list[k].Weeks[int(p.Week-first)/7]
		for _, h := range difference(p, booked[fmt.Sprint(p.Person, "|", p.Week)]) {
			s.Waiting += h
		}
		s.Sent, s.Back = s.Sent || p.State == Sent, s.Back || p.State == Back
	}
	return list, err
}

// Remind writes to those who have weeks missing, or sent back; people of nil means all of them.
func (o *Office) Remind(ctx context.Context, a *assess.Assessment, mondays []calendar.Date, people []string) (*letter.Reminded, error) {
	actor, err := access.Permit(ctx, access.Remind)
	if err != nil {
		return nil, err
	}
	list, err := o.Filed(ctx, a, mondays, "")
	if err != nil {
		return nil, err
	}
	addresses, err := o.letter.Addresses(ctx)
	if err != nil {
		return nil, err
	}
	round := letter.NewRound[string](addresses)
	for i := range list {
		f := &list[i]
		if people != nil && !slices.Contains(people, f.Person.Code) {
			continue
		}
		for k := range f.Weeks {
			if what := wanting(&f.Weeks[k]); what != "" {
				round.Tell(a.Settings.OwnerOf(f.Person.Name), f.Person.Name, "  - week of "+mondays[k].Human()+": "+what)
			}
		}
	}
	return round.Send(func(name, to string, lines []string) (m letter.Message, err error) {
		m = letter.Message{To: to, At: o.now(), Subject: "Hours are still to come",
			Text: fmt.Sprintf("Dear %s,\n\nyour hours of these weeks are still to come:\n\n%s\n\nThe week sheet is in Turret under People."+
				"\n\nThank you\n%s\n", name, strings.Join(lines, "\n"), letter.Signature(actor, a.Settings))}
		if m.File, err = o.letter.Put(ctx, m); err != nil {
			return m, err
		}
		return m, o.store.Note(ctx, o.audit.Entry(ctx, "remind", name, "", m.Subject))
	})
}

// wanting says what is wanted of somebody for a week; empty for nothing.
func wanting(s *Stand) string {
	switch {
	case s.Back:
		return "some were sent back"
	case s.Missing():
		return "nothing was written"
	}
	return ""
}

// Own are the weeks of whoever asks for which hours are wanted, with what is; none for those who are not in the register of people.
func (o *Office) Own(ctx context.Context, a *assess.Assessment, mondays []calendar.Date) (map[calendar.Date]string, error) {
	p := PersonOf(a, access.ActorOf(ctx))
	if p == nil {
		return nil, nil
	}
	list, err := o.Filed(ctx, a, mondays, p.Code)
	wanted := map[calendar.Date]string{}
	for i := range list {
		for k := range list[i].Weeks {
			if what := wanting(&list[i].Weeks[k]); what != "" {
				wanted[mondays[k]] = what
			}
		}
	}
	return wanted, err
}
