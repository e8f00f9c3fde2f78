<?php

declare(strict_types=1);

namespace Geschenk\App\Demo\Licences;

use Geschenk\Core\Files\Durable\Disk;
use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Command\Command;
use Symfony\Component\Console\Input\InputInterface;
use Symfony\Component\Console\Output\OutputInterface;
use Symfony\Component\DependencyInjection\Attribute\Autowire;

/** Writes LICENCES.txt: of all that ships, each text once, with what it holds for. */
#[AsCommand('licences:write', 'Writes the licences of all that ships into LICENCES.txt')]
final class LicencesWriteCommand extends Command
{
    public const FILE = 'LICENCES.txt';
    private const NO_TEXT = 'No text comes with these: the names of their licences, above, are what they tell.';

    public function __construct(
        private readonly Shipped $shipped,
        #[Autowire('%kernel.project_dir%')] private readonly string $root,
    ) {
        parent::__construct();
    }

    public static function text(Shipped $shipped): string
    {
        $list = $texts = [];
        foreach ($shipped->all() as $one) {
            $list[] = sprintf('%s %s: %s', $one['name'], $one['version'], implode(' or ', $one['licences']));
            foreach ([] === $one['texts'] ? [self::NO_TEXT] : $one['texts'] as $text) {
                $texts[$text][] = $one['name'];
            }
        }
        $parts = ["What ships with Geschenk and is somebody else's. Made by ./geschenk console licences:write.\n\n"
            .implode("\n", $list)."\n"];
        foreach ($texts as $text => $names) {
            $parts[] = str_repeat('-', 80)."\n".wordwrap(implode(', ', array_unique($names)), 80)."\n\n$text\n";
        }

        return implode("\n", $parts);
    }

    protected function execute(InputInterface $input, OutputInterface $output): int
    {
        Disk::put($this->root.'/'.self::FILE, self::text($this->shipped));
        $output->writeln('Written: '.self::FILE);

        return Command::SUCCESS;
    }
}
