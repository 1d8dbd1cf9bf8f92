#include "progress.h"
#include "ratiogon_solids.h"

#include <atomic>

namespace {
constexpr double nothing = -1;
std::atomic<double> share{nothing};
}  // namespace

Progress::Progress(double from, double to) : from(from), to(to) { note(0); }

Progress::~Progress() { share = nothing; }

void Progress::note(double done) { share = from + (to - from) * done; }

void Progress::Show(const Message_ProgressScope&, const Standard_Boolean) { note(GetPosition()); }

RG_API double rg_progress(void) { return share; }
