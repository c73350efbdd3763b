package project

import (
	"cmp"
	"errors"
	"slices"
	"strings"

	"turret/internal/app/assess"
	"turret/internal/app/fault"
	"turret/internal/core/measure"
	"turret/internal/core/schedule"
	"turret/internal/record"
	"turret/internal/web/page"
)

// aboutView is whom to ask about a project, where its documents lie, and what it has in fields of the office's own.
type aboutView struct {
	People    []contact
	Documents []document
	Fields    []ownField
	Lessons   []lesson
	Row       string // address of the row that the fields stand in

	AddContact, AddDocument, EditFields string // addresses to edit them; empty where the one who asks may not
}

// lesson is one that a proposal resembles.
type lesson struct{ Title, Href, Of, Shared string }

type contact struct{ Name, About, Mail, Phone string }

// document is an address of one, or a file that is attached to a record of the project.
type document struct {
	Title, Address, Note, Belongs, BelongsHref string
	File                                       bool
}

type ownField struct{ Name, Says, Text string }

// about gathers what is known about a project besides its figures.
func (s *pages) about(r *page.Request, p *measure.Project) (*aboutView, error) {
	v := &aboutView{Row: r.To(page.ProjectPath(p.Code)+"/records/projects", "record", "projects:"+p.Code)}
	for _, x := range []contact{{Name: p.Lead, About: "leads it"}, {Name: p.Sponsor, About: "sponsors it"}} {
		if x.Name != "" {
			v.People = append(v.People, x)
		}
	}
	err := s.each(r, p, record.Contacts, func(get func(string) string) {
		v.People = append(v.People, contact{get("name"), get("about"), get("email"), get("phone")})
	})
	if err != nil {
		return nil, err
	}
	err = s.each(r, p, record.Documents, func(get func(string) string) {
		v.Documents = append(v.Documents, document{Title: get("title"), Address: get("address"), Note: get("note"),
			Belongs: activityName(p, get("activity"))})
	})
	if err == nil {
		err = s.attached(r, p, v)
	}
	if err != nil {
		return nil, err
	}
	for _, c := range r.Figures.Masters.Own {
		v.Fields = append(v.Fields, ownField{c.Head(), cmp.Or(c.Says, c.Name), assess.OwnText(p, c)})
	}
	if err := s.lessons(r, p, v); err != nil {
		return nil, err
	}
	return v, s.edits(r, p, v)
}

func activityName(p *measure.Project, code string) string {
	if i := slices.IndexFunc(p.Activities, func(a schedule.Activity) bool { return a.Code == code }); i >= 0 {
		return code + " " + p.Activities[i].Name
	}
	return code
}

// attached adds the files that are attached to records of the project.
func (s *pages) attached(r *page.Request, p *measure.Project, v *aboutView) error {
	list, err := s.Office.Attach.All(r.Context(), r.Figures, p.Code)
	if errors.Is(err, fault.ErrNotFound) {
		return nil
	}
	for i := range list {
		f := &list[i]
		d := document{Title: f.Name, Note: f.By, File: true, Belongs: f.Kind.Noun(1) + " " + activityName(p, f.Code),
			Address:     r.To("/registers/"+string(f.Kind)+"/file", "holder", p.Code, "code", f.Code, "digest", f.Digest),
			BelongsHref: r.To(page.RecordPath(f.Kind, p.Code, f.Code))}
		v.Documents = append(v.Documents, d)
	}
	return err
}

// lessons are suggested for what is proposed: those that share words with its name and with what it is feared for.
func (s *pages) lessons(r *page.Request, p *measure.Project, v *aboutView) error {
	if p.Status != measure.Proposed {
		return nil
	}
	text := p.Name + " " + p.Category
	for i := range p.Risks {
		text += " " + p.Risks[i].Title + " " + p.Risks[i].Category
	}
	list, err := s.Office.Register.Like(r.Context(), r.Figures, text)
	for i := range list {
		x := &list[i]
		v.Lessons = append(v.Lessons, lesson{x.Title, r.To(page.RecordPath(record.Lessons, x.Project.Code, x.Code)),
			x.Project.Code + " " + x.Project.Name, "shares " + strings.Join(x.Shared, ", ")})
	}
	return err
}

// edits are the addresses at which the one who asks may edit it.
func (s *pages) edits(r *page.Request, p *measure.Project, v *aboutView) error {
	kinds, err := s.editable(r, p.Code)
	for _, k := range kinds {
		at := r.To(page.EditPath(k, p.Code))
		switch k {
		case record.Contacts:
			v.AddContact = at
		case record.Documents:
			v.AddDocument = at
		case record.Projects:
			v.EditFields = at
		}
	}
	return err
}

// each passes the records of a kind of a project; those that the one who asks may not see are none.
func (s *pages) each(r *page.Request, p *measure.Project, kind record.Kind, row func(get func(column string) string)) error {
	sheet, err := s.Office.Records.Of(r.Context(), r.Figures, p.Code, kind)
	if errors.Is(err, fault.ErrNotFound) {
		return nil
	}
	if err != nil {
		return err
	}
	for i := range sheet.Rows {
		row(func(column string) string { return sheet.Rows[i].Cells[sheet.Input.At(column)] })
	}
	return nil
}
