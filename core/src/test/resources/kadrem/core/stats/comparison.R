# Reference values for the statistics of Kadrem. Run with: Rscript comparison.R > comparison.txt  (R 4.2.2, packages boot 1.3-28, mvtnorm 1.1-3)
# R is not needed to run the tests; they hold the values of comparison.txt.
options(digits = 12)
say <- function(name, ...) cat(name, ":", format(c(...), digits = 10), "\n")

# Hollander & Wolfe 1973, page 29: depression scores (help page of wilcox.test)
x <- c(1.83, .50, 1.62, 2.48, 1.68, 1.88, 1.55, 3.06, 1.30)
y <- c(.878, .647, .598, 2.05, 1.06, 1.29, 1.06, 3.14, 1.29)
w <- wilcox.test(x, y, paired = TRUE, conf.int = TRUE)
say("signed rank V, p, estimate, interval", w$statistic, w$p.value, w$estimate, w$conf.int)

# Hollander & Wolfe 1973, page 140: rounding first base (help page of friedman.test)
rounding <- matrix(c(5.40, 5.50, 5.55, 5.85, 5.70, 5.75, 5.20, 5.60, 5.50, 5.55, 5.50, 5.40, 5.90, 5.85, 5.70,
  5.45, 5.55, 5.60, 5.40, 5.40, 5.35, 5.45, 5.50, 5.35, 5.25, 5.15, 5.00, 5.85, 5.80, 5.70, 5.25, 5.20, 5.10,
  5.65, 5.55, 5.45, 5.60, 5.35, 5.45, 5.05, 5.00, 4.95, 5.50, 5.50, 5.40, 5.45, 5.55, 5.50, 5.55, 5.55, 5.35,
  5.45, 5.50, 5.55, 5.50, 5.45, 5.25, 5.65, 5.60, 5.40, 5.70, 5.65, 5.55, 6.30, 6.30, 6.25),
  nrow = 22, byrow = TRUE)
f <- friedman.test(rounding)
say("friedman chi squared, df, p", f$statistic, f$parameter, f$p.value)

# Student 1908 (data set sleep)
s <- with(sleep, t.test(extra[group == 1], extra[group == 2], paired = TRUE))
say("paired t, p, interval", s$statistic, s$p.value, s$conf.int)
d <- with(sleep, extra[group == 2] - extra[group == 1])
library(boot)
set.seed(1)
studentised <- function(v, i) c(mean(v[i]), var(v[i]) / length(v))
b <- boot(d, studentised, 1e6)
say("studentised bootstrap of the mean, a million draws", boot.ci(b, type = "stud")$student[4:5])
skew <- c(.02, .01, .05, .03, .40, .02, .07, .01, .12, .04)
b <- boot(skew, studentised, 1e6)
say("studentised bootstrap of a skewed mean, a million draws", boot.ci(b, type = "stud")$student[4:5])

# Dunnett's two-sided quantile: the largest of three |t| with correlations 1/2 on 10 degrees of freedom
library(mvtnorm)
say("largest of three t, correlations 1/2, 10 df", qmvt(0.95, tail = "both.tails", df = 10, corr = diag(3) / 2 + 0.5)$quantile)

# Hollander & Wolfe 1973, page 69: permeability constants (help page of wilcox.test)
px <- c(0.80, 0.83, 1.89, 1.04, 1.45, 1.38, 1.91, 1.64, 0.73, 1.46)
py <- c(1.15, 0.88, 0.90, 0.74, 1.21)
r <- wilcox.test(px, py, conf.int = TRUE)
say("rank sum W, p, estimate, interval", r$statistic, r$p.value, r$estimate, r$conf.int)
say("cliff's delta", mean(sign(outer(px, py, "-"))))
# with ties: every choice of 4 of the 9 mid-ranks
tx <- c(1, 2, 2, 3, 5); ty <- c(2, 4, 4, 6)
rk <- rank(c(tx, ty)); u <- sum(rk[6:9]) - 10
us <- combn(9, 4, function(i) sum(rk[i]) - 10)
say("rank sum with ties U, p", u, min(1, 2 * min(mean(us <= u + 1e-9), mean(us >= u - 1e-9))))

# noncentral t
for (q in list(c(2, 5, 1), c(-1, 10, .5), c(3.5, 6.5, 4), c(2.4469, 6, 10), c(0, 4, -1.2)))
  say(paste("pt", paste(q, collapse = " ")), pt(q[1], q[2], q[3]))
# the usual tolerance of power.t.test gives 12.58547, and with a finer one the fifth decimal changes
say("rounds", power.t.test(delta = 1, sd = 1, power = .9, type = "paired", tol = 1e-10)$n,
  power.t.test(delta = .05, sd = .06, power = .8, type = "paired", tol = 1e-10)$n)
say("delta of 9 rounds", power.t.test(n = 9, sd = .06, power = .8, sig.level = .05 / 3, type = "paired", tol = 1e-10)$delta)

# shares
say("wilson", prop.test(682, 925, correct = FALSE)$conf.int, prop.test(0, 1000, correct = FALSE)$conf.int)
say("clopper pearson", binom.test(682, 925)$conf.int, binom.test(0, 1000)$conf.int)
say("holm", p.adjust(c(.0005, .04, .013, .2), "holm"))
q <- c(12, 15, 11, 20, 35, 9, 14)
say("quantiles type 8", quantile(q, c(.5, .9, .95), type = 8))

# order statistics that enclose a percentile
enclose <- function(n, p, conf) {
  l <- qbinom((1 - conf) / 2, n, p); while (l > 0 && pbinom(l - 1, n, p) > (1 - conf) / 2) l <- l - 1
  u <- qbinom((1 - conf) / 2, n, p, lower.tail = FALSE) + 1
  say(paste("ranks", n, p), l, u, pbinom(u - 1, n, p) - pbinom(l - 1, n, p))
}
enclose(100, .5, .95); enclose(1000, .99, .95); enclose(100, .9, .95)
