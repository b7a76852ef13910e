# The two modules of OpenCV that the finder uses. Debian's package with the configuration for CMake brings all of them and
# half a gigabyte of what they stand on; the modules' own packages have headers and libraries and nothing else.
find_path(OPENCV_INCLUDE_DIR opencv2/core.hpp PATH_SUFFIXES opencv4 REQUIRED)
foreach(module core imgproc)
  find_library(OPENCV_${module} opencv_${module} REQUIRED)
  add_library(opencv_${module} UNKNOWN IMPORTED GLOBAL)
  set_target_properties(opencv_${module} PROPERTIES IMPORTED_LOCATION ${OPENCV_${module}}
    INTERFACE_INCLUDE_DIRECTORIES ${OPENCV_INCLUDE_DIR})
endforeach()
