from mektel.cli import main

main()
