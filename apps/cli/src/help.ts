/** Texts of `--help`, one a command. */
export const HELP: Record<string, string> = {
  '': `longheron: a survey from raw sensor files to proven surfaces, on files alone

  longheron inspect FILE...      what each file is: kind, time span, extent, counts, gaps, findings
  longheron convert ...          a cloud in another format
  longheron merge ...            several clouds as one
  longheron reproject ...        a cloud in another coordinate system
  longheron position ...         GNSS observations of rover and base, and inertial data, to a trajectory
  longheron trajectory ...       a trajectory in another system, height or rate
  longheron join ...             trajectories of several sessions to one
  longheron stops ...            marks where an antenna stood still
  longheron network ...          coordinates of a base or of marks from static recordings
  longheron events ...           a trajectory and times of events to their positions
  longheron place ...            laser returns and a trajectory to a cloud
  longheron classify ...         strays and ground
  longheron check ...            height residuals at marks
  longheron surface ...          terrain grid, TIN and contours
  longheron site ...             the made-up demo site's files

Common: --report FILE.json   all figures, SI units
        --quiet              no progress
        --help               of a command, with an example

Exit code: 0 done; 1 done, but out of tolerance or with errors not accepted; 2 could not.
`,
  inspect: `longheron inspect FILE... [--report FILE.json]

Tells what each file is by its content: kind, time span, extent, counts, gaps, findings.

Example: npx longheron inspect demo/*
`,
  convert: `longheron convert --in CLOUD --out cloud.las|.laz|.ply|.csv [--crs S] [--columns x,y,z,...] [--text]

  --in F                  LAS, LAZ, E57, PLY, or a text with a point to a line
  --out F                 its ending names the format; what it does not carry is said
  --crs S                 system of a file that names none, e.g. EPSG:25832+5773
  --columns C             what the columns of a text hold, - for nothing: x,y,z,-,intensity
  --text                  PLY as text

Example: npx longheron convert --in demo/out/cloud.las --out demo/out/cloud.laz
`,
  merge: `longheron merge --in CLOUD,CLOUD[,...] --out merged.las

  --in F,F                LAS or LAZ of one coordinate system
  --out F                 LAS 1.4 in the point format that holds what all hold

  --strips W              strips of one number are: same, apart, or 'by time' (default): one when seen within two minutes

Strips of the later clouds that clash are moved up.

Example: npx longheron merge --in tile_1.laz,tile_2.laz --out merged.las
`,
  reproject: `longheron reproject --in CLOUD --to S --out cloud.las [--from S]

  --in F                  LAS or LAZ
  --to S                  projected system and heights, e.g. EPSG:25833+5773, or EPSG:25833 with ellipsoidal heights
  --from S                system of a file that names none
  --out F                 LAS; every attribute stays

Example: npx longheron reproject --in demo/out/cloud.las --to EPSG:25833+5773 --out demo/out/cloud_33.las
`,
  position: `longheron position --rover F[,F] --base F[,F] --nav F[,F] --out trajectory.csv
                   [--imu F --mount F] [--base-llh LAT,LON,H | --base-xyz X,Y,Z] [--antenna-height M] [--antex F]

  --rover F[,F]           observations of the moving receiver, RINEX 2.11 or 3.0x, also gzip-compressed; following
                          files of one receiver are joined
  --base F[,F]            observations of the receiver at rest
  --nav F[,F]             broadcast navigation; GPS and Galileo are used
  --sp3 F[,F]             precise orbits and clocks, used instead of the broadcast ones
  --antex F[,F]           calibrations of the antennas that the headers name, and of satellites
  --base-llh LAT,LON,H    marker of the base, degrees and ellipsoidal metres; else its header's position counts
  --base-xyz X,Y,Z        the same, Earth-centred metres
  --base-mean             the mean of its own codes: weak, good to a metre or two
  --antenna-height M      vertical, marker to antenna reference point; else the header's
  --frame S               frame of the base's coordinates and of the result (default EPSG:4937)
  --base-frame F          ITRF2020 or ITRF2014 when the base's coordinates are in it: they are brought to ETRS89
  --base-epoch Y          year with decimals to which they belong, e.g. 2026.46
  --start S, --end S      span, seconds of the GPS week
  --systems GE            G GPS, E Galileo (default both)
  --one-band              uses the first band of each system alone
  --mask DEG              lowest elevation (default 10)
  --leave-out G05[,E11]   satellites to leave out
  --direction D           both, forward or reverse (default both)
  --imu F                 inertial data of the rover, HDF5 or CSV: the result is smoothed, with attitude
  --mount F               mounting, JSON, with the lever arm to the antenna
  --platform P            vehicle, aircraft, boat or tripod (default vehicle)
  --heading DEG           true heading at the first epoch, when motion and the Earth's turn cannot show it
  --no-standstill         does not use that the platform stands still
  --no-reverse-check      does not run the unit's data from the end to the beginning as a check
  --wheels-may-slip       does not use that wheels do not slip sideways
  --rate HZ               rows a second with inertial data (default: the unit's rate)
  --out F                 trajectory, CSV: of the inertial reference point, or without inertial data of the antenna's

Example: npx longheron position --rover demo/vehicle_20260616_gnss.rnx --base demo/brn1_20260616_gnss.rnx \\
           --nav demo/site_20260616_nav.rnx --antex demo/antennas.atx --imu demo/vehicle_20260616.imu.h5 --mount demo/vehicle_mount.json \\
           --out vehicle.csv
`,
  trajectory: `longheron trajectory --in F --crs S --out F [--heights KIND | --geoid F]

  --in F                  trajectory, CSV
  --crs S                 system to write it in, e.g. EPSG:25832+5773
  --geographic            latitude and longitude instead of easting and northing
  --heights KIND          project (of the system, default), ellipsoidal, or geoid
  --geoid F               grid of undulations, GTX or GeoTIFF: heights above that geoid
  --bicubic               curved between the values of the grid instead of straight
  --rate HZ               rows a second (default all)
  --out F                 CSV; it names system, kind of height, epoch and point

Example: npx longheron trajectory --in vehicle.csv --crs EPSG:25832 --geoid geoid.gtx --rate 1 --out vehicle_grid.csv
`,
  join: `longheron join --in A,B[,C] --out trajectory.csv

  --in A,B                trajectories of following sessions, CSV, of one frame and point
  --out F                 one trajectory, CSV; gaps stay, overlaps are cut in the middle

Example: npx longheron join --in morning.csv,afternoon.csv --out day.csv
`,
  stops: `longheron stops --trajectory F --crs S --out marks.csv [--occupations F] [--antenna-height M]

  --trajectory F          trajectory of an antenna, CSV
  --crs S                 system of the marks, e.g. EPSG:25832+5773
  --occupations F         when which mark was occupied, CSV; without it stops are found by themselves
  --antenna-height M      vertical, mark to antenna reference point (default 0)
  --shortest S            shortest stop that counts, seconds (default 10)
  --marks F               marks known already, to compare with
  --out F                 marks, CSV

Example: npx longheron stops --trajectory pole.csv --occupations demo/pole_20260616_occupations.csv \\
           --crs EPSG:25832+5773 --marks demo/marks_network.csv --out occupied.csv
`,
  network: `longheron network --recordings A,B[,C] --nav F[,F] --hold NAME[,NAME] --crs S --out marks.csv

  --recordings A,B        observations of receivers at rest, RINEX; each is a point by the marker in its header
  --nav F[,F]             navigation, RINEX (with --sp3 only for what the orbits lack)
  --sp3 F[,F]             precise orbits;  --antex F[,F] antenna calibrations
  --hold A[,B]            points that keep the coordinates of their headers within their deviations
  --hold-sd M             1 SD of these in plan (default 0.002), --hold-height-sd M in height (default 0.004)
  --measured F            distances and levelled height differences, CSV
  --marks F               known marks that these lead to, CSV; held within their own deviations
  --crs S                 system of the marks, e.g. EPSG:25832+5773
  --mask DEG              elevation mask (default 10);  --shortest S shortest session (default 120)
  --out F                 points found, as marks, CSV

Example: npx longheron network --recordings brn1.rnx,fjr1.rnx,hlm2.rnx --nav nav.rnx --antex antennas.atx \\
           --hold FJR1,HLM2 --crs EPSG:25832+5773 --out base.csv
`,
  events: `longheron events --trajectory F --events F --out positions.csv [--mount F --sensor NAME]

  --trajectory F          trajectory, CSV
  --events F              times of events, CSV: gps_week, gps_sow, label
  --mount F --sensor S    applies that sensor's lever arm, once, and gives the attitude of its axes
  --photos F[,F]          photographs to pair with the events: a list (CSV: name, taken), JPEG files, or a folder
  --leave-out-strays      leaves out events that seem to be none of the series
  --ground H --crs S      what the sensor's camera shows of level ground at that height of the system
  --footprints F          the same as areas, GeoJSON; --farthest M cuts views at the horizon (default 1000)
  --trajectory-crs S      frame of a trajectory that does not name its own, e.g. EPSG:4937
  --out F                 positions, CSV

Example: npx longheron events --trajectory vehicle.csv --events exposures.csv --mount mount.json --sensor camera \\
           --out positions.csv
`,
  place: `longheron place --trajectory F --returns F[,F] --mount F --crs EPSG:25832+5773 --out cloud.las

  --trajectory F          trajectory, CSV
  --returns F[,F]         laser returns, HDF5, one file a scanner head
  --mount F               mounting, JSON
  --crs S                 projected system + heights, e.g. EPSG:25832+5773; without + ellipsoidal heights
  --trajectory-crs S      frame of a trajectory that does not name its own, e.g. EPSG:4937
  --min-strip M           shortest strip, metres (default 50)
  --min-range M, --max-range M, --min-intensity N
                          returns outside are written as withheld, and counted
  --out F                 LAS 1.4 to write

Example: npx longheron place --trajectory demo/vehicle_20260616_traj.csv \\
           --returns demo/vehicle_20260616_head1.laser.h5,demo/vehicle_20260616_head2.laser.h5 \\
           --mount demo/vehicle_mount.json --crs EPSG:25832+5773 --out cloud.las
`,
  classify: `longheron classify --in cloud.las --out classified.las [--ground] [--noise]

  --ground                find the ground (class 2)
  --noise                 find strays (classes 7 and 18, withheld)
                          without either, both are found
  --method M              triangles (default), or cloth
  --stiffness N           of the cloth: 1 gives way, 3 stays flat (default 2); --cell M its cell (default 0.5)
  --largest-object M      larger than any building (default 20)
  --steepest DEG          steepest true slope (default 40)
  --within M              a point this near the surface is ground (default 0.08)

Example: npx longheron classify --in cloud.las --out classified.las --ground --noise
`,
  check: `longheron check --cloud cloud.las --marks marks.csv [--crs S] [--class 2] [--tolerance M]

  --class C               class of the points that count (default 2)
  --tolerance M           largest RMSE; exit code 1 when above
  --csv F                 residuals as a table

Example: npx longheron check --cloud classified.las --marks demo/marks_network.csv --tolerance 0.03
`,
  surface: `longheron surface --cloud cloud.las --cell 0.5 [--class 2] [--out dtm.tif] [--asc F]
                  [--contours 0.25 --contours-out c.geojson] [--dxf F] [--landxml tin.xml]

  --cell M                cell size, metres
  --class C               class of the points (default 2)
  --max-gap M             triangles with longer edges stay empty (default 3.0)
  --contours M            contour interval
  --contours-out F        contours as GeoJSON; --lonlat for longitude and latitude
  --dxf F                 contours as DXF
  --landxml F             TIN as LandXML 1.2

Example: npx longheron surface --cloud classified.las --cell 0.5 --out dtm.tif --contours 0.25 --contours-out c.geojson
`,
  site: `longheron site --out FOLDER [--size full|small] [--seed N] [--noise none|low|medium|high]

Makes the raw files of the made-up demo site Brannholm Reach.

Example: npx longheron site --out demo --size small
`,
};
