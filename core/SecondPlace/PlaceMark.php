<?php

declare(strict_types=1);

namespace Geschenk\Core\SecondPlace;

/**
 * Which place it is: a file with a name of its own, drawn when it was begun. A disk that is not mounted, another one in
 * its place, and one that another shop uses are told by it.
 */
final readonly class PlaceMark
{
    private const FILE = 'mark';
    private const BEGINS = 'geschenk second place ';
    private const MOST = 200;

    public function __construct(private Place $place)
    {
    }

    /**
     * @return string|null name of the place; null where none was begun
     *
     * @throws PlaceFailure
     */
    public function read(): ?string
    {
        $this->place->ensureThere();
        if (!isset($this->place->files('')[self::FILE])) {
            return null;
        }
        $text = PlacedFile::text($this->place, self::FILE, self::MOST);

        return 1 === preg_match('/^'.self::BEGINS.'([0-9a-f-]{36})\n$/D', $text, $found)
            ? $found[1]
            : throw PlaceFailure::other($this->place->label());
    }

    /**
     * @throws PlaceFailure
     */
    public function make(string $name): void
    {
        PlacedFile::putText($this->place, self::FILE, self::BEGINS.$name."\n");
    }
}
