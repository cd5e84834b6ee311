// The models of the annual report; steps of annual.ms.md take them region by region.

#region honey
var complete = hives.Where(h => h.ForageHa != null && h.SpringTemp != null && h.Mites != null && h.HoneyKg != null).ToList();
var forage = Regression.LeastSquares(complete, h => h.HoneyKg, h => new { h.ForageHa });
var honey = Regression.LeastSquares(complete, h => h.HoneyKg, h => new { h.ForageHa, h.SpringTemp, h.Mites });
#endregion

#region winter
// Mites cost colonies, and treatment saves some.
var winter = Regression.Logistic(hives.Where(h => h.Mites != null).ToList(), h => h.Survived ? 1 : 0, h => new { h.Mites, h.Treated });
#endregion
