<?php

declare(strict_types=1);

namespace Geschenk\App\Command;

use Doctrine\ORM\EntityManagerInterface;
use Geschenk\App\Entity\Tray;
use Geschenk\App\View\SheetCode;
use Geschenk\App\Words\Language;
use Geschenk\App\Words\Words;
use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Command\Command;
use Symfony\Component\Console\Input\InputArgument;
use Symfony\Component\Console\Input\InputInterface;
use Symfony\Component\Console\Output\OutputInterface;

#[AsCommand('sheet:verify', 'Says whether a hand-over sheet tells what the shop’s records hold, by the code on it')]
final class SheetVerifyCommand extends Command
{
    public function __construct(
        private readonly EntityManagerInterface $entities,
        private readonly SheetCode $codes,
        private readonly Words $words,
    ) {
        parent::__construct();
    }

    protected function configure(): void
    {
        $this->addArgument('tray', InputArgument::REQUIRED, 'Number of the tray')
            ->addArgument('code', InputArgument::REQUIRED, 'The code, with or without its dashes');
    }

    protected function execute(InputInterface $input, OutputInterface $output): int
    {
        [$number, $code] = [$input->getArgument('tray'), $input->getArgument('code')];
        $tray = is_string($number) && ctype_digit($number) && strlen($number) < 10
            ? $this->entities->getRepository(Tray::class)->findOneBy(['number' => (int) $number])
            : null;
        if (null === $tray || !is_string($code)) {
            $output->writeln($this->words->say('sheet_code.no_tray', [], Language::DEFAULT));

            return Command::INVALID;
        }
        $found = $this->codes->find($tray, $code);
        $output->writeln($this->words->say(...SheetCode::said($found), language: Language::DEFAULT));
        foreach ($found['sums'] ?? [] as [$key, $params]) {
            $output->writeln($this->words->say($key, $params, Language::DEFAULT));
        }

        return null === $found ? Command::FAILURE : Command::SUCCESS;
    }
}
