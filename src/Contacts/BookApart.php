<?php

declare(strict_types=1);

namespace Geschenk\App\Contacts;

use Geschenk\App\Surroundings;
use Geschenk\Core\Chat\Person;
use Geschenk\Core\Files\Durable\Disk;
use Geschenk\Core\Files\Durable\DiskFailure;
use Geschenk\Core\Files\Durable\DiskFull;
use Geschenk\Core\Files\Durable\ScratchFolder;
use Geschenk\Core\Messenger\BeyondLimits;
use Geschenk\Core\Messenger\ReadingLimits;
use Geschenk\Core\Messenger\ReadingPhp;
use Symfony\Component\Process\Exception\ExceptionInterface;
use Symfony\Component\Process\Process;

/**
 * Reads an address book in a process of its own, which has no secret, no phone and no record of the shop, and which the
 * operating system stops when it takes too much; BookProcess is the other end.
 *
 * @phpstan-type NamesBrought array{brought: int, there: int, nameless: int, unreadable: int}
 */
final class BookApart
{
    public const BOOK = 'book.vcf';
    public const PEOPLE = 'people.ndjson';
    public const ADDED = 'added.vcf';

    private const EXTENSIONS = ['mbstring', 'posix', 'ctype'];

    private readonly ReadingPhp $php;

    /**
     * @param string      $script   path of bin/read-address-book
     * @param string|null $compiled folder for what PHP has compiled
     */
    public function __construct(
        string $script,
        private readonly ?ReadingLimits $limits = null,
        ?string $compiled = null,
    ) {
        $this->php = new ReadingPhp($script, self::EXTENSIONS, $compiled);
    }

    /**
     * @param iterable<Person> $people
     * @param string           $ownNumber of the account, E.164
     *
     * @return array{added: string, counts: NamesBrought} the cards that are to come behind what is there
     *
     * @throws BeyondLimits
     * @throws DiskFull
     * @throws DiskFailure
     */
    public function add(string $text, iterable $people, string $ownNumber): array
    {
        $scratch = ScratchFolder::make();
        try {
            Disk::put($scratch->path.'/'.self::BOOK, $text);
            $this->writePeople($scratch->path.'/'.self::PEOPLE, $people);
            $limits = $this->limits ?? ReadingLimits::forInput(
                strlen($text) + (int) filesize($scratch->path.'/'.self::PEOPLE),
            );
            $counts = $this->run($scratch->path, $ownNumber, $limits);

            return ['added' => Disk::contents($scratch->path.'/'.self::ADDED), 'counts' => $counts];
        } finally {
            $scratch->remove();
        }
    }

    /** @return NamesBrought */
    private function run(string $folder, string $ownNumber, ReadingLimits $limits): array
    {
        $process = new Process(
            $this->php->command(), null, Surroundings::only(['TMPDIR' => $folder, 'TZ' => 'UTC']),
            json_encode(
                ['folder' => $folder, 'own_number' => $ownNumber, 'limits' => $limits->toArray()], \JSON_THROW_ON_ERROR,
            )."\n", $limits->wallSeconds,
        );
        try {
            $process->run();
        } catch (ExceptionInterface) {
            throw BeyondLimits::of(Names::FILE, BeyondLimits::TIME);
        }
        $told = json_decode($process->getOutput(), true, 4);
        if (0 !== $process->getExitCode() || !is_array($told)) {
            $said = trim($process->getErrorOutput());
            throw match (true) {
                DiskFull::isToldBy($said), str_contains($said, DiskFull::class) => DiskFull::at($folder),
                1 === preg_match('/Allowed memory size|Out of memory|cannot allocate/i', $said) => BeyondLimits::of(
                    Names::FILE, BeyondLimits::MEMORY,
                ),
                default => new \RuntimeException('Reading an address book failed: '.mb_substr($said, 0, 2_000)),
            };
        }
        $count = static fn (string $name): int => is_int($told[$name] ?? null) ? $told[$name] : 0;

        return [
            'brought' => $count('brought'), 'there' => $count('there'), 'nameless' => $count('nameless'),
            'unreadable' => $count('unreadable'),
        ];
    }

    /** @param iterable<Person> $people */
    private function writePeople(string $path, iterable $people): void
    {
        $stream = Disk::open($path, 'w');
        foreach ($people as $person) {
            $told = [$person->number, $person->bookName, $person->ownName, $person->otherNumbers];
            Disk::write($stream, json_encode(
                $told, \JSON_THROW_ON_ERROR | \JSON_INVALID_UTF8_SUBSTITUTE,
            )."\n", $path);
        }
        Disk::finish($stream, $path);
    }
}
