// How far the longest work of the library has come, for whoever waits for it.
#ifndef RATIOGON_PROGRESS_H
#define RATIOGON_PROGRESS_H

#include <Message_ProgressIndicator.hxx>
#include <Message_ProgressRange.hxx>

// Notes the share done while it lives: from one share of the whole work to another.
class Progress : public Message_ProgressIndicator {
public:
    Progress(double from, double to);
    ~Progress() override;
    // For work that counts by itself: a share of this one's, from 0 to 1.
    void note(double share);

protected:
    void Show(const Message_ProgressScope& scope, const Standard_Boolean force) override;

private:
    double from, to;
};

#endif
