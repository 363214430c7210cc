"""Water and dirt: what keeps them out of a build, place by place, how that was tested, what to do after a dunking."""
