<?php

declare(strict_types=1);

namespace Geschenk\Core\SecondPlace;

/**
 * The keyring at the second place, as it lies in the shop: its keys are under the shop's, and that under what is told
 * at the start. Without it nothing there opens; so what is destroyed in the shop's has to go there too.
 */
final readonly class PlacedKeyring
{
    private const FOLDER = 'keys';
    private const NAME = '/^ring-(\d{10})-([0-9a-f]{64})$/D';
    private const MOST = 64_000_000;

    public function __construct(private Place $place)
    {
    }

    /**
     * Puts it there, and removes each that was there before.
     *
     * @return bool whether it was not there already
     *
     * @throws PlaceFailure
     */
    public function put(string $ring): bool
    {
        $there = $this->there();
        $sha256 = hash('sha256', $ring);
        $newest = array_key_last($there);
        $isNew = null === $newest || $there[$newest] !== $sha256 || !$this->isWhole($newest, $sha256);
        if ($isNew) {
            $newest = sprintf('ring-%010d-%s', (null === $newest ? 0 : (int) substr($newest, 5, 10)) + 1, $sha256);
            PlacedFile::putText($this->place, self::FOLDER.'/'.$newest, $ring);
        }
        foreach (array_keys($there) as $before) {
            $before === $newest ?: $this->place->remove(self::FOLDER.'/'.$before);
        }

        return $isNew;
    }

    /** @throws PlaceFailure */
    public function isThere(): bool
    {
        return [] !== $this->there();
    }

    /**
     * @return string the newest one that is whole
     *
     * @throws PlaceFailure
     */
    public function get(): string
    {
        foreach (array_reverse($this->there()) as $name => $sha256) {
            $text = PlacedFile::text($this->place, self::FOLDER.'/'.$name, self::MOST);
            if (hash('sha256', $text) === $sha256) {
                return $text;
            }
        }
        throw PlaceFailure::without($this->place->label(), self::FOLDER);
    }

    private function isWhole(string $name, string $sha256): bool
    {
        return hash('sha256', PlacedFile::text($this->place, self::FOLDER.'/'.$name, self::MOST)) === $sha256;
    }

    /** @return array<string, string> SHA-256 that each should have, by its name, the oldest first */
    private function there(): array
    {
        $rings = [];
        foreach (array_keys($this->place->files(self::FOLDER)) as $name) {
            if (1 === preg_match(self::NAME, (string) $name, $found)) {
                $rings[(string) $name] = $found[2];
            }
        }
        ksort($rings);

        return $rings;
    }
}
