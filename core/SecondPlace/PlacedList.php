<?php

declare(strict_types=1);

namespace Geschenk\Core\SecondPlace;

use Geschenk\Core\Files\Durable\Folder;
use Geschenk\Core\Files\Durable\ScratchFolder;
use Geschenk\Core\Seal\DataKey;
use Geschenk\Core\Seal\SealBroken;
use Geschenk\Core\Seal\SealedFile;

/**
 * What is in one copy: JSON Lines of its files and of its portions, each in their order, and one more that ends it. It
 * is sealed, and so told by nobody but the shop.
 *
 * @phpstan-type PlacedFileLine array{file: string, bytes: int, sha256: string}
 * @phpstan-type PortionLine array{portion: string, bytes: int}
 */
final readonly class PlacedList
{
    public const FILE = 'list';
    private const LONGEST = 65_536;

    /**
     * @param ScratchFolder $scratch where it lies as FILE, for as long as somebody has it
     * @param string        $of      what it is the list of
     */
    public function __construct(private ScratchFolder $scratch, private DataKey $key, private string $of)
    {
    }

    /** As it lies, sealed. */
    public function file(): SealedFile
    {
        return new SealedFile($this->scratch->path.'/'.self::FILE, $this->key, 'list of '.$this->of);
    }

    /** @return string a path as its line has it: whatever bytes a name has, it stays itself */
    public static function named(string $path): string
    {
        return (string) preg_replace_callback(
            '/[^\x20-\x24\x26-\x7e]/', static fn (array $byte): string => rawurlencode($byte[0]), $path,
        );
    }

    /**
     * @return \Generator<int, PlacedFileLine>
     *
     * @throws SealBroken
     */
    public function files(): \Generator
    {
        foreach ($this->lines() as $line) {
            if (isset($line['file'])) {
                $path = is_string($line['file']) ? rawurldecode($line['file']) : '';
                $isFile = Folder::staysInside($path)
                    && is_int($line['bytes'] ?? null) && is_string($line['sha256'] ?? null);
                if (!$isFile) {
                    throw SealBroken::at($this->of);
                }
                yield ['file' => $path, 'bytes' => $line['bytes'], 'sha256' => $line['sha256']];
            }
        }
    }

    /**
     * @return list<PortionLine>
     *
     * @throws SealBroken
     */
    public function portions(): array
    {
        $portions = [];
        foreach ($this->lines() as $line) {
            if (isset($line['portion'])) {
                if (!is_string($line['portion']) || !is_int($line['bytes'] ?? null)) {
                    throw SealBroken::at($this->of);
                }
                $portions[] = ['portion' => $line['portion'], 'bytes' => $line['bytes']];
            }
        }

        return $portions;
    }

    /**
     * @return \Generator<int, array<array-key, mixed>>
     *
     * @throws SealBroken where it is not as it was written, or not all of it
     */
    private function lines(): \Generator
    {
        $stream = $this->file()->open();
        try {
            $isEnded = false;
            while (false !== ($text = fgets($stream, self::LONGEST))) {
                $line = json_decode($text, true, 4);
                if (!is_array($line)) {
                    throw SealBroken::at($this->of);
                }
                $isEnded = isset($line['end']);
                yield $line;
            }
            $isEnded ?: throw SealBroken::at($this->of);
        } finally {
            fclose($stream);
        }
    }
}
