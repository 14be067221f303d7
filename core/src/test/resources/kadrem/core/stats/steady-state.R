# Values that SteadyStateTest holds, from data sets that come with R (package datasets). Run: Rscript steady-state.R
options(digits = 12)
mk <- function(name, x) {
  n <- length(x)
  d <- outer(x, x, function(a, b) b - a)[upper.tri(diag(n))]
  t <- cor.test(seq_len(n), x, method = "kendall", exact = FALSE, continuity = TRUE)
  k <- outer(seq_len(n), seq_len(n), function(a, b) b - a)[upper.tri(diag(n))]
  cat(name, "n", n, "S", sum(sign(d)), "z", unname(t$statistic), "p", t$p.value, "slope", median(d / k), "\n")
}
mk("Nile", as.numeric(Nile))
mk("LakeHuron", as.numeric(LakeHuron))
mk("precip60", as.numeric(precip)[1:60])
# MSER-5 (White, Cobb, Spratt 2000): batch means of 5, the deletion d in the first half that makes
# sum((z - mean)^2) / (m - d)^2 of the kept batches smallest; the first such d
mser5 <- function(name, x) {
  m <- length(x) %/% 5
  z <- colMeans(matrix(x[1:(5 * m)], nrow = 5))
  d <- 0:(m %/% 2)
  g <- sapply(d, function(i) { k <- z[(i + 1):m]; sum((k - mean(k))^2) / (m - i)^2 })
  cat(name, "m", m, "d", d[which.min(g)], "deleted", 5 * d[which.min(g)], "statistic", min(g), "\n")
}
mser5("Nile", as.numeric(Nile))
mser5("LakeHuron", as.numeric(LakeHuron))
mser5("sunspot60", as.numeric(sunspot.year)[1:60])
mser5("discoveries", as.numeric(discoveries))
mser5("decay", round(10 + 50 * exp(-(0:79) / 8) + as.numeric(lh)[(0:79) %% 48 + 1], 3))
