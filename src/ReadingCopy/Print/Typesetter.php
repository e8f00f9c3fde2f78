<?php

declare(strict_types=1);

namespace Geschenk\App\ReadingCopy\Print;

use Geschenk\App\Surroundings;
use Geschenk\Core\Files\Durable\Disk;
use Geschenk\Core\Files\Durable\DiskFailure;
use Geschenk\Core\Files\Durable\DiskFull;
use Geschenk\Core\Files\Durable\Folder;
use Geschenk\Core\Files\Durable\ScratchFolder;
use Symfony\Component\DependencyInjection\Attribute\Autowire;
use Symfony\Component\Process\Exception\ExceptionInterface;
use Symfony\Component\Process\ExecutableFinder;
use Symfony\Component\Process\Process;

/**
 * Lays pages out for paper (PDF) with the browser engine of this computer, which writes every script as its readers do.
 * What it is given is a page of ours: everybody's texts are texts in it, its policy lets no script run, and no name is
 * looked up in any network. All that it needs for that is in memory, and goes.
 */
final readonly class Typesetter
{
    private const PROGRAMS = ['chromium-headless-shell', 'chromium'];
    /** Seconds: a net for what never ends. */
    private const LIMIT = 300;
    private const PAGE = 'page.html';
    private const PDF = 'page.pdf';
    /** What is told of what it said. */
    private const WORDS = 300;
    /** As the engine writes when it was made: of one length, whatever the day. */
    private const WHEN = '/\/(CreationDate|ModDate) \(D:\d{14}[+-]\d\d\'\d\d\'\)/';

    /** @param string $memory folder that is in memory */
    public function __construct(#[Autowire('%env(GESCHENK_MEMORY)%')] private string $memory)
    {
    }

    public function isThere(): bool
    {
        return null !== $this->program();
    }

    /**
     * @param string                $html     a whole page, without anything beside it but $pictures
     * @param array<string, string> $pictures their contents, by the names that the page has for them
     * @param \DateTimeImmutable    $asOf     when it says that it was made: the same page gives the same bytes
     *
     * @return string PDF
     *
     * @throws PrintFailure
     * @throws DiskFull
     * @throws DiskFailure
     */
    public function pdf(string $html, array $pictures, \DateTimeImmutable $asOf): string
    {
        $program = $this->program() ?? throw PrintFailure::noProgram();
        $scratch = ScratchFolder::in($this->memory);
        Folder::make($scratch->path.'/home');
        Disk::put($scratch->path.'/'.self::PAGE, $html);
        foreach ($pictures as $name => $bytes) {
            Disk::put($scratch->path.'/'.$name, $bytes);
        }
        $this->run($program, $scratch->path);
        $path = $scratch->path.'/'.self::PDF;
        $pdf = is_file($path) ? Disk::contents($path) : '';
        if (!str_starts_with($pdf, '%PDF-') || !str_ends_with(rtrim($pdf), '%%EOF')) {
            throw PrintFailure::because('no PDF');
        }
        $when = $asOf->setTimezone(new \DateTimeZone('UTC'))->format("YmdHis+00'00'");

        return preg_replace(self::WHEN, '/$1 (D:'.$when.')', $pdf) ?? throw PrintFailure::because('no time');
    }

    /** @throws PrintFailure */
    private function run(string $program, string $folder): void
    {
        $process = new Process([
            $program, '--headless', '--no-sandbox', '--disable-gpu', '--disable-dev-shm-usage', '--no-first-run',
            '--disable-extensions', '--disable-background-networking', '--disable-component-update',
            '--disable-sync', '--disable-breakpad', '--host-resolver-rules=MAP * ~NOTFOUND', '--lang=en',
            '--user-data-dir='.$folder.'/home', '--no-pdf-header-footer', '--print-to-pdf='.$folder.'/'.self::PDF,
            'file://'.$folder.'/'.self::PAGE,
        ], $folder, Surroundings::only([
            'HOME' => $folder.'/home', 'TMPDIR' => $folder.'/home', 'DBUS_SESSION_BUS_ADDRESS' => 'disabled:',
        ]), timeout: self::LIMIT);
        try {
            $process->run();
        } catch (ExceptionInterface $ended) {
            throw PrintFailure::because((new \ReflectionClass($ended))->getShortName());
        }
        if (!$process->isSuccessful()) {
            $said = explode("\n", trim($process->getErrorOutput()));
            throw PrintFailure::because(mb_scrub(substr(end($said), 0, self::WORDS)));
        }
    }

    private function program(): ?string
    {
        foreach (self::PROGRAMS as $name) {
            $path = (new ExecutableFinder())->find($name);
            if (null !== $path) {
                return $path;
            }
        }

        return null;
    }
}
