#pragma once
// Changes by hand from a script, one after the other, as a person would make them in the window.
//
// A script is a JSON list. What a change is about is picked by places: the nearest face, corner or edge within half a metre.
//   {"do": "remove", "faces": [place, …]}               {"do": "join", "faces": [place, …]}
//   {"do": "move", "corners": [place, …], "by": [x, y, z], "follow": true}
//   {"do": "pull", "edge": place, "by": [x, y, z], "follow": false}
//   {"do": "draw", "outline": [place, …], "kind": "mud"}
//   {"do": "split-edge", "edge": place, "along": 0.5}
//   {"do": "split", "faces": [place, …], "from": place, "to": place}
//   {"do": "strip", "from": place, "to": place}: a climb link where it is too steep to walk
//                                                       {"do": "paint", "faces": [place, …], "kind": "mud"}
//   {"do": "drape", "faces": [place, …]}                {"do": "part" or "unpart", "edges": [place, …]}
//   {"do": "one-way", "edges": [place, …]}: crossed only away from the face on the side of the place; again: the other way
//   {"do": "give-up", "patch": 3}
//   {"do": "mend", "what": "needle-face"}               what is wrong with a mesh from elsewhere: one kind of it, or all
// Each may name an "agent", whose mesh it is about; the first kind where it does not.

#include "core/pipeline/ground.h"

namespace dune::exchange {

/// The project with all changes made, or the first problem with the number of its change. Nothing is half done.
Result<project::Project> runHandScript(const std::string& script, project::Project project, std::shared_ptr<const level::Level> level,
                                       Job& job);

}  // namespace dune::exchange
