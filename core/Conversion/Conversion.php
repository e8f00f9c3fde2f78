<?php

declare(strict_types=1);

namespace Geschenk\Core\Conversion;

use Geschenk\Core\Arrival\Comparison;
use Geschenk\Core\Arrival\Result;
use Geschenk\Core\Files\AttachmentFiles;
use Geschenk\Core\Files\Folder;
use Geschenk\Core\Files\FolderFiles;
use Geschenk\Core\Files\Manifest;
use Geschenk\Core\Messenger\ChatReading;
use Geschenk\Core\Messenger\Format;
use Geschenk\Core\Messenger\Formats;
use Geschenk\Core\Messenger\Writer;
use Geschenk\Core\Platform;
use Geschenk\Core\Progress;
use Geschenk\Core\Store\ChatStore;
use Geschenk\Core\UnusableInput;

/**
 * The heart of the job: plan what should arrive, write it in the receiving format, read that back with the format's own
 * reader, compare. No phone is touched. Each step leaves its file in the folder of the conversion.
 */
final readonly class Conversion
{
    /** What should arrive: a chat store. */
    public const EXPECTED = 'expected.sqlite';
    /** The app's data as it is to lie on the phone. */
    public const DATA = 'data';
    /** Every file of it: nothing else may reach a phone. */
    public const MANIFEST = 'manifest.txt';
    /** What was read back, as long as it is needed. */
    private const READ_BACK = 'read-back.sqlite';
    /** How that compared. */
    public const REHEARSAL = 'rehearsal.sqlite';

    private Format $format;
    private Writer $writer;

    /**
     * @param string $folder where its files go
     *
     * @throws UnusableInput when nothing writes this messenger for that platform
     */
    public function __construct(
        Formats $formats,
        private ChatReading $reading,
        private ChatStore $chats,
        private AttachmentFiles $files,
        private string $folder,
        Platform $platform,
    ) {
        $messenger = $chats->source()->messenger;
        $format = $formats->writing($messenger, $platform);
        $writer = $format?->writer();
        if (null === $format || null === $writer) {
            throw UnusableInput::noWriter($messenger, $platform);
        }
        $this->format = $format;
        $this->writer = $writer;
    }

    /**
     * All four steps. What an attempt before has written of the data is gone on with; the rest is made anew.
     *
     * @param int                   $moment  when lifetimes are judged, milliseconds since 1970 UTC
     * @param array<string, string> $choices by rule
     * @param Scope                 $scope   what somebody chose to leave behind
     *
     * @throws UnknownChoice
     * @throws UnusableInput
     */
    public function run(int $moment, array $choices, Progress $progress, Scope $scope = new Scope()): Converted
    {
        $this->dropLeftovers();
        $losses = $this->plan($moment, $choices, $progress, $scope);
        $this->write($progress);
        $manifest = $this->list($progress);
        $this->readBack($progress);
        $rehearsal = $this->compare($progress);
        Folder::remove($this->folder.'/'.self::READ_BACK);
        if ($manifest->digest !== $this->list($progress)->digest) {
            throw ConversionDisturbed::meanwhile();
        }

        return new Converted(
            $losses, $rehearsal->totals(), $this->chats->summary()['attachments_missing'], $manifest->bytes,
        );
    }

    /**
     * @param array<string, string> $choices
     *
     * @return list<Loss>
     *
     * @throws UnknownChoice
     */
    public function plan(int $moment, array $choices, Progress $progress, Scope $scope = new Scope()): array
    {
        $expectation = Expectation::of($this->format->capabilities(), $moment, $choices, $scope);

        return $expectation->build($this->chats, $this->folder.'/'.self::EXPECTED, $progress);
    }

    public function write(Progress $progress): void
    {
        $this->writer->write($this->expected(), $this->files, $this->folder.'/'.self::DATA, $progress);
    }

    public function readBack(Progress $progress): void
    {
        $data = $this->folder.'/'.self::DATA;
        $store = $this->folder.'/'.self::READ_BACK;
        $this->reading->read($data, new FolderFiles($data), $store, $progress, '@converted');
    }

    public function compare(Progress $progress): Result
    {
        $found = new ChatStore($this->folder.'/'.self::READ_BACK);

        return (new Comparison($this->expected(), $found))->run($this->folder.'/'.self::REHEARSAL, $progress);
    }

    public function expected(): ChatStore
    {
        return new ChatStore($this->folder.'/'.self::EXPECTED);
    }

    private function list(Progress $progress): Manifest
    {
        return Manifest::make(
            $this->folder.'/'.self::DATA,
            $this->folder.'/'.self::MANIFEST,
            static fn (int $bytes) => $progress->advance(0),
        );
    }

    private function dropLeftovers(): void
    {
        $leftovers = [self::EXPECTED, self::EXPECTED.'.plan', self::MANIFEST, self::READ_BACK, self::REHEARSAL];
        foreach ($leftovers as $leftover) {
            Folder::remove($this->folder.'/'.$leftover);
        }
    }
}
