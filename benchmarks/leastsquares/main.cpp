// Solves exported sketch equations with a general-purpose nonlinear least-squares library: the same unknowns, start,
// equations with analytic derivatives, and tolerance. Prints the best median time in milliseconds over its linear solvers.
//   least_squares FILE REPEATS
#include <ceres/ceres.h>

#include <algorithm>
#include <chrono>
#include <cmath>
#include <cstdio>
#include <cstdlib>
#include <fstream>
#include <memory>
#include <sstream>
#include <string>
#include <vector>

namespace {

struct Slot {
    int unknown;  // -1 where the value is known
    double offset;
};

struct Row {
    std::string name;
    std::vector<Slot> slots;
    std::vector<double> constants;
};

// Residual and derivatives by the equation's own variables.
double evaluate(const Row& row, const double* v, double* d) {
    const std::vector<double>& c = row.constants;
    const size_t n = row.slots.size();
    if (row.name == "linear") {
        double sum = -c[n];
        for (size_t i = 0; i < n; i++) {
            sum += c[i] * v[i];
            d[i] = c[i];
        }
        return sum;
    }
    if (row.name == "point-distance") {
        const double x = v[2] - v[0], y = v[3] - v[1], l = std::hypot(x, y);
        d[0] = -x / l, d[1] = -y / l, d[2] = x / l, d[3] = y / l;
        return l - c[0];
    }
    if (row.name == "on-circle") {
        const double x = v[0] - v[2], y = v[1] - v[3], l = std::hypot(x, y);
        d[0] = x / l, d[1] = y / l, d[2] = -x / l, d[3] = -y / l, d[4] = -1;
        return l - v[4];
    }
    if (row.name == "equal-lengths") {
        const double x = v[2] - v[0], y = v[3] - v[1], z = v[6] - v[4], w = v[7] - v[5];
        const double l = std::hypot(x, y), m = std::hypot(z, w);
        d[0] = -x / l, d[1] = -y / l, d[2] = x / l, d[3] = y / l;
        d[4] = z / m, d[5] = w / m, d[6] = -z / m, d[7] = -w / m;
        return l - m;
    }
    if (row.name == "lines-at-angle") {
        const double ux = v[2] - v[0], uy = v[3] - v[1], wx = v[6] - v[4], wy = v[7] - v[5], t = c[1];
        const double uu = ux * ux + uy * uy, ww = wx * wx + wy * wy;
        const double ax = t * uy / uu, ay = -t * ux / uu, bx = -t * wy / ww, by = t * wx / ww;
        d[0] = -ax, d[1] = -ay, d[2] = ax, d[3] = ay, d[4] = -bx, d[5] = -by, d[6] = bx, d[7] = by;
        return t * std::remainder(std::atan2(ux * wy - uy * wx, ux * wx + uy * wy) - c[0], 2 * M_PI);
    }
    if (row.name == "circles-touch") {
        const double x = v[2] - v[0], y = v[3] - v[1], l = std::hypot(x, y), f = c[1];
        d[0] = -x / l, d[1] = -y / l, d[2] = x / l, d[3] = y / l, d[4] = -f, d[5] = -f * c[0];
        return l - f * (v[4] + c[0] * v[5]);
    }
    // line-distance and line-touches-circle
    const double ux = v[4] - v[2], uy = v[5] - v[3], wx = v[0] - v[2], wy = v[1] - v[3];
    const double length = std::sqrt(ux * ux + uy * uy), h = (ux * wy - uy * wx) / length;
    d[0] = -uy / length, d[1] = ux / length;
    d[4] = wy / length - h * ux / (length * length), d[5] = -wx / length - h * uy / (length * length);
    d[2] = -d[0] - d[4], d[3] = -d[1] - d[5];
    if (row.name == "line-distance") {
        return h - c[0];
    }
    d[6] = -c[0];
    return h - c[0] * v[6];
}

class Cost : public ceres::CostFunction {
   public:
    explicit Cost(const Row& row) : row_(row) {
        for (const Slot& s : row.slots) {
            const auto at = std::find(unknowns_.begin(), unknowns_.end(), s.unknown);
            place_.push_back(s.unknown < 0 ? -1 : static_cast<int>(at - unknowns_.begin()));
            if (s.unknown >= 0 && at == unknowns_.end()) {
                unknowns_.push_back(s.unknown);
                mutable_parameter_block_sizes()->push_back(1);
            }
        }
        set_num_residuals(1);
    }

    const std::vector<int>& unknowns() const { return unknowns_; }

    bool Evaluate(double const* const* x, double* residual, double** jacobian) const override {
        double v[20], d[20];
        for (size_t i = 0; i < row_.slots.size(); i++) {
            v[i] = row_.slots[i].offset + (place_[i] < 0 ? 0 : x[place_[i]][0]);
        }
        residual[0] = evaluate(row_, v, d);
        if (jacobian) {
            for (size_t k = 0; k < unknowns_.size(); k++) {
                if (jacobian[k]) {
                    jacobian[k][0] = 0;
                    for (size_t i = 0; i < place_.size(); i++) {
                        jacobian[k][0] += place_[i] == static_cast<int>(k) ? d[i] : 0;
                    }
                }
            }
        }
        return true;
    }

   private:
    const Row& row_;
    std::vector<int> unknowns_, place_;
};

// Stops as soon as the sum of squares says that all residuals are below the tolerance.
class Met : public ceres::IterationCallback {
   public:
    ceres::CallbackReturnType operator()(const ceres::IterationSummary& s) override {
        return s.cost <= 0.5e-20 ? ceres::SOLVER_TERMINATE_SUCCESSFULLY : ceres::SOLVER_CONTINUE;
    }
};

}  // namespace

int main(int argc, char** argv) {
    std::ifstream file(argc > 1 ? argv[1] : "");
    const int repeats = argc > 2 ? std::stoi(argv[2]) : 5;
    size_t unknowns, rows;
    if (!(file >> unknowns >> rows)) {
        std::fprintf(stderr, "least_squares: no equations in %s\n", argc > 1 ? argv[1] : "(nothing)");
        return 2;
    }
    std::vector<double> start(unknowns);
    for (double& v : start) file >> v;
    std::vector<Row> system(rows);
    for (Row& row : system) {
        size_t slots, constants;
        file >> row.name >> slots >> constants;
        row.slots.resize(slots);
        row.constants.resize(constants);
        for (Slot& s : row.slots) file >> s.unknown >> s.offset;
        for (double& c : row.constants) file >> c;
    }

    double best = -1;
    std::string with;
    double left = 0;
    for (const ceres::LinearSolverType type : {ceres::SPARSE_NORMAL_CHOLESKY, ceres::DENSE_QR, ceres::DENSE_NORMAL_CHOLESKY}) {
        if (type != ceres::SPARSE_NORMAL_CHOLESKY && unknowns > 400) continue;
        std::vector<double> times;
        double residual = 0;
        for (int i = 0; i < repeats; i++) {
            std::vector<double> x = start;
            ceres::Problem problem;
            for (const Row& row : system) {
                auto* cost = new Cost(row);
                if (cost->unknowns().empty()) {
                    delete cost;
                    continue;
                }
                std::vector<double*> blocks;
                for (int u : cost->unknowns()) blocks.push_back(&x[u]);
                problem.AddResidualBlock(cost, nullptr, blocks);
            }
            Met met;
            ceres::Solver::Options options;
            options.linear_solver_type = type;
            options.max_num_iterations = 200;
            options.function_tolerance = 0;
            options.gradient_tolerance = 1e-16;
            options.parameter_tolerance = 0;
            options.callbacks.push_back(&met);
            options.logging_type = ceres::SILENT;
            ceres::Solver::Summary summary;
            const auto began = std::chrono::steady_clock::now();
            ceres::Solve(options, &problem, &summary);
            times.push_back(std::chrono::duration<double, std::milli>(std::chrono::steady_clock::now() - began).count());
            residual = std::sqrt(2 * summary.final_cost);
        }
        std::sort(times.begin(), times.end());
        const double median = times[times.size() / 2];
        if (std::getenv("TELL")) std::fprintf(stderr, "%s %g ms residual %g\n", ceres::LinearSolverTypeToString(type), median, residual);
        if (residual < 1e-8 && (best < 0 || median < best)) {
            best = median;
            with = ceres::LinearSolverTypeToString(type);
            left = residual;
        }
    }
    std::printf("%.6f %s %.2e\n", best, with.empty() ? "none" : with.c_str(), left);
    return best < 0 ? 1 : 0;
}
